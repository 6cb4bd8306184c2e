package kinds

import (
	"bathyform/core/design"
	"bathyform/core/finding"
)

// Hot is sheet rubber that is pressed hot; it is built by the press's own sheet.
var Hot = &Kind{
	Key: design.Pressed, Name: "Sheet rubber, pressed hot and cut", What: "sheets packed round a metal pattern and cured in a heated press",
	Wear: 3, Elsewhere: "it is pressed by the press's own sheet; choose another kind for the bench",
	Suits: func(Case) Suit {
		return Suit{
			Against: []finding.Finding{
				note(
					"wants-a-press",
					finding.Stop,
					"Wants a press and a master that stands 155 °C.",
					"It is built by the press's own sheet, not at this bench.",
				),
			},
		}
	},
}
