package store

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"
)

// Conditions are what a pull was made under, as far as it was written down.
type Conditions struct {
	Celsius  *float64 `json:"celsius,omitempty"`  // in the shop
	Humidity *float64 `json:"humidity,omitempty"` // per cent
	Pressure *float64 `json:"pressure,omitempty"` // kPa over the atmosphere that it set under
	Who      string   `json:"who,omitempty"`
	Lot      string   `json:"lot,omitempty"`    // of the resin
	Poured   string   `json:"poured,omitempty"` // time of day in the shop, 14:05
	Out      *float64 `json:"out,omitempty"`    // minutes from the fill until it was demoulded

	Colour    string   `json:"colour,omitempty"`    // the recipe, as it was weighed or counted
	Matched   *bool    `json:"matched,omitempty"`   // the colour; nil where nobody has said
	Finishing *float64 `json:"finishing,omitempty"` // minutes on all castings of the pull
}

// Scan reads them from the database.
func (c *Conditions) Scan(v any) error {
	switch doc := v.(type) {
	case nil:
		*c = Conditions{}
		return nil
	case []byte:
		return json.Unmarshal(doc, c)
	case string:
		return json.Unmarshal([]byte(doc), c)
	}
	return fmt.Errorf("conditions of a pull come as %T", v)
}

// Value writes them to the database.
func (c Conditions) Value() (driver.Value, error) {
	doc, err := json.Marshal(c)
	return string(doc), err
}
