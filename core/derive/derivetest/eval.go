// Package derivetest works figures out again from their own derivations, as a
// caster with a calculator would: the formula as it stands, with the inputs
// under their names, lengths in mm, areas, volumes and densities turned into
// the same.
package derivetest

import (
	"cmp"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"bathyform/core/derive"
	"bathyform/core/quantity"
)

// All finds every figure in a value: in its fields, lists and maps, and those
// that went into them.
func All(v any) (out []derive.Number) {
	seen := make(map[string]bool)
	var add func(n derive.Number)
	add = func(n derive.Number) {
		if n.Formula == "" {
			return
		}
		key := fmt.Sprintf("%v|%s|%v", n.Value, n.Formula, n.Inputs)
		if seen[key] {
			return
		}
		seen[key] = true
		out = append(out, n)
		for _, in := range n.Inputs {
			if in.Number != nil {
				add(*in.Number)
			}
		}
	}
	visited := make(map[uintptr]bool)
	var walk func(v reflect.Value, deep int)
	walk = func(v reflect.Value, deep int) {
		if deep > 24 || !v.IsValid() {
			return
		}
		if v.CanInterface() {
			if n, ok := v.Interface().(derive.Number); ok {
				add(n)
				return
			}
		}
		switch v.Kind() {
		case reflect.Pointer:
			if !v.IsNil() && !visited[v.Pointer()] {
				visited[v.Pointer()] = true
				walk(v.Elem(), deep+1)
			}
		case reflect.Interface:
			if !v.IsNil() {
				walk(v.Elem(), deep+1)
			}
		case reflect.Slice, reflect.Array:
			if k := v.Type().Elem().Kind(); k == reflect.Struct || k == reflect.Pointer || k == reflect.Slice || k == reflect.Interface {
				for i := range v.Len() {
					walk(v.Index(i), deep+1)
				}
			}
		case reflect.Map:
			for _, k := range v.MapKeys() {
				walk(v.MapIndex(k), deep+1)
			}
		case reflect.Struct:
			for i := range v.NumField() {
				if v.Type().Field(i).IsExported() {
					walk(v.Field(i), deep+1)
				}
			}
		}
	}
	walk(reflect.ValueOf(v), 0)
	return out
}

// base is what a measure is multiplied by to come to mm, mm², mm³, g and h.
func base(k quantity.Kind) float64 {
	switch k {
	case quantity.Area:
		return 100
	case quantity.Volume:
		return 1000
	case quantity.Density:
		return 1e-3
	}
	return 1
}

// Eval works a figure out from its formula. It is not ok where the formula is
// words and no sum.
func Eval(n derive.Number) (value float64, ok bool) {
	p := parser{text: strings.TrimSpace(n.Formula), inputs: slices.Clone(n.Inputs)}
	slices.SortStableFunc(p.inputs, func(a, b derive.Input) int { return cmp.Compare(len(b.Name), len(a.Name)) })
	if all, rest, found := strings.Cut(p.text, "sum of "); found && all == "" && rest != "" { // of whatever goes in
		for _, in := range n.Inputs {
			if in.Kind == n.Kind {
				value += in.Value * base(in.Kind)
			}
		}
		return value / base(n.Kind), len(n.Inputs) > 0
	}
	if strings.HasPrefix(p.text, "the least of these") {
		value = math.Inf(1)
		for _, in := range n.Inputs {
			value = min(value, in.Value*base(in.Kind))
		}
		return value / base(n.Kind), len(n.Inputs) > 0
	}
	v, ok := p.sum()
	p.space()
	if !ok || p.text != "" && p.text[0] != ',' && p.text[0] != ':' {
		return 0, false
	}
	v /= base(n.Kind)
	switch {
	case strings.Contains(p.text, "rounded up"):
		v = math.Ceil(v - 1e-9)
		if n.Kind == quantity.Number {
			v = max(v, 1)
		}
	case strings.Contains(p.text, "never below nothing"):
		v = max(0, v)
	}
	var limit float64
	if _, err := fmt.Sscanf(p.text, ", %f mm at", &limit); err == nil {
		if strings.Contains(p.text, "at most") {
			v = min(v, limit)
		} else {
			v = max(v, limit)
		}
	}
	return v, true
}

type parser struct {
	text   string
	inputs []derive.Input
}

func (p *parser) space() { p.text = strings.TrimLeft(p.text, " ") }

func (p *parser) take(words ...string) bool {
	p.space()
	for _, w := range words {
		if strings.HasPrefix(p.text, w) {
			p.text = p.text[len(w):]
			return true
		}
	}
	return false
}

func (p *parser) sum() (float64, bool) {
	v, ok := p.product()
	for ok {
		switch {
		case p.take("+"):
			w, good := p.product()
			v, ok = v+w, good
		case p.take("−", "- "):
			w, good := p.product()
			v, ok = v-w, good
		default:
			return v, true
		}
	}
	return v, ok
}

func (p *parser) product() (float64, bool) {
	v, ok := p.power()
	for ok {
		switch {
		case p.take("×", "*"):
			w, good := p.power()
			v, ok = v*w, good
		case p.take("/", "÷"):
			w, good := p.power()
			v, ok = v/w, good
		default:
			return v, true
		}
	}
	return v, ok
}

func (p *parser) power() (float64, bool) {
	v, ok := p.single()
	switch {
	case !ok:
	case p.take("²"):
		v *= v
	case p.take("³"):
		v *= v * v
	}
	return v, ok
}

func (p *parser) single() (float64, bool) {
	if p.take("−") {
		v, ok := p.single()
		return -v, ok
	}
	if p.take("√") {
		v, ok := p.single()
		return math.Sqrt(v), ok
	}
	if p.take("(") {
		v, ok := p.sum()
		return v, ok && p.take(")")
	}
	p.space()
	for _, in := range p.inputs {
		name := in.Name
		if !strings.HasPrefix(p.text, name) {
			name, _, _ = strings.Cut(in.Name, " (") // the unit of what has none of the usual
			name, _, _ = strings.Cut(name, ", ")
		}
		if name == "" || !strings.HasPrefix(p.text, name) {
			continue
		}
		if rest := p.text[len(name):]; rest == "" || !unicode.IsLetter([]rune(rest)[0]) {
			p.text = rest
			return in.Value * base(in.Kind), true
		}
	}
	if p.take("π") {
		return math.Pi, true
	}
	n := 0
	for n < len(p.text) && (p.text[n] >= '0' && p.text[n] <= '9' || p.text[n] == '.') {
		n++
	}
	if n == 0 {
		return 0, false
	}
	v, err := strconv.ParseFloat(p.text[:n], 64)
	p.text = p.text[n:]
	if p.take("L") {
		v *= 1e6
	}
	return v, err == nil
}
