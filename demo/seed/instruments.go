package seed

import (
	"fmt"

	"bathyform/core/practice"
)

// firstPort is where the first stand-in of the demo's bench speaks, the others
// beside it.
const firstPort = 8451

// Instruments are those of the demo's bench, for which stand-ins speak.
func Instruments() (out []practice.Instrument) {
	for i, kind := range []string{"scale", "pot", "vacuum", "air"} {
		out = append(out, practice.Instrument{Kind: kind, Address: fmt.Sprintf("127.0.0.1:%d", firstPort+i)})
	}
	out[0].Digit = 0.1
	return out
}
