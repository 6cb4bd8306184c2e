package logbook

import "fmt"

// Pull is the castings of one filling of a mould.
type Pull struct {
	Lines []Line
	Key   string // the same for the same pull whenever the file is read again
	Wrong string // why it cannot be taken; empty where it can
}

// Pulls puts lines together: those with the same mark, or that follow one another
// from the same mould on the same day with further cavities.
func Pulls(lines []Line) (out []Pull) {
	marked := map[string]int{}
	for _, l := range lines {
		if at, ok := marked[l.Pull]; ok && l.Pull != "" {
			out[at].Lines = append(out[at].Lines, l)
			continue
		}
		if last := len(out) - 1; l.Pull == "" && last >= 0 && goesOn(out[last].Lines, l) {
			out[last].Lines = append(out[last].Lines, l)
			continue
		}
		if l.Pull != "" {
			marked[l.Pull] = len(out)
		}
		out = append(out, Pull{Lines: []Line{l}})
	}
	same := map[string]int{}
	for i := range out {
		p := &out[i]
		p.judge()
		first := p.Lines[0]
		if p.Key = first.Pull; p.Key != "" {
			continue
		}
		p.Key = fmt.Sprintf("%s|%s|%g|%g|%s", first.Day, first.Mould, first.A, first.B, first.Notes)
		for _, l := range p.Lines {
			p.Key += fmt.Sprintf("|%d%t%s", l.Cavity, l.Good, l.Defect)
		}
		same[p.Key]++ // the second pull of a day that came out just as the first
		p.Key = fmt.Sprintf("%s|%d", p.Key, same[p.Key])
	}
	return out
}

func goesOn(lines []Line, l Line) bool {
	last := lines[len(lines)-1]
	return last.Pull == "" && last.Mould == l.Mould && last.Day == l.Day && l.Cavity == last.Cavity+1
}

func (p *Pull) judge() {
	seen := map[int]bool{}
	for _, l := range p.Lines {
		switch {
		case l.Wrong != "":
			p.Wrong = l.Wrong
		case seen[l.Cavity]:
			p.Wrong = fmt.Sprintf("Cavity %d is given twice.", l.Cavity)
		case l.Mould != p.Lines[0].Mould:
			p.Wrong = "One pull comes from one mould."
		}
		if p.Wrong != "" {
			return
		}
		seen[l.Cavity] = true
	}
}
