package kinds

// Cautions of the stages, where the work can hurt someone. Common practice;
// the data sheet, local rules and licensed practice go first.
var (
	RubberCautions = []string{
		"Nitrile gloves: latex stops platinum rubber from curing, and catalysts irritate the skin.",
		"Tin catalysts and solvents: air the room, no flame. The data sheet goes first.",
		"A vacuum chamber can implode: rated lid only, nobody leans over it.",
	}
	ShotCautions = []string{
		"The isocyanate part sensitises for life: respirator as its data sheet says, nitrile gloves, glasses, fresh air.",
		"A full cup left standing overheats and smokes. Spread leftovers thin.",
		"Pressure pot: never above its rating, relief valve working, all bolts, vent before opening. Inspection by local rules.",
	}
)
