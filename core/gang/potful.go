package gang

// roomy are the radii of the smallest circle, in radii of the circles in it, that
// has room for one, two, three and more of them (Graham, Lubachevsky, Nurmela &
// Ostergard 1998, Discrete Mathematics 181; from memory).
var roomy = []float64{1, 2, 2.1548, 2.4143, 2.7014, 3, 3, 3.3048, 3.6132, 3.8131, 3.9239, 4.0297}

// Potful is how many moulds stand in a round pot at once, by the circle that each
// takes and its height, mm, beside and over one another.
func Potful(potWide, potTall, across, tall float64) int {
	if across <= 0 || across > potWide || potTall > 0 && tall > potTall {
		return 0
	}
	n := 0
	for i, r := range roomy {
		if potWide/across >= r-1e-9 {
			n = i + 1
		}
	}
	if potTall > 0 && tall > 0 {
		n *= int(potTall / tall)
	}
	return n
}
