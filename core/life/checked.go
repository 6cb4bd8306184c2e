package life

// Came is a forecast held against what came: of a mould that wore out, made when it
// had given half of its pulls, from all the others.
type Came struct {
	At        int // pulls that it had given
	Forecast  Remaining
	Gave      int // further pulls
	Inside    bool
	WornAfter int
}

// mostChecked bounds how many moulds are gone through.
const mostChecked = 30

// Checked holds the forecast against every mould that wore out, up to so many: it is
// made from the others alone, as it would have been. Eight in ten are to come inside.
func Checked(p Prior, records []Record) (out []Came) {
	for i, r := range records {
		if !r.WornOut || r.Pulls < 2 {
			continue
		}
		if len(out) == mostChecked {
			return out
		}
		others := append(append([]Record(nil), records[:i]...), records[i+1:]...)
		at := r.Pulls / 2
		wear := r.Wear
		if !(wear > 0) {
			wear = 1
		}
		f := Learn(p, others).Wearing(wear).Remaining(at)
		gave := r.Pulls - at
		out = append(out, Came{At: at, Forecast: f, Gave: gave, Inside: gave >= f.Low && gave <= f.High, WornAfter: r.Pulls})
	}
	return out
}
