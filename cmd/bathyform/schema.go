package main

import (
	"encoding/json"

	"bathyform/internal/api"

	"github.com/spf13/cobra"
)

// schemaCommand prints the schema of the design document.
func schemaCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "schema",
		Short: "Print the JSON Schema of the design document",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			schema, err := api.DesignSchema()
			if err != nil {
				return err
			}
			enc := json.NewEncoder(cmd.OutOrStdout())
			enc.SetIndent("", "  ")
			return enc.Encode(schema)
		},
	}
}
