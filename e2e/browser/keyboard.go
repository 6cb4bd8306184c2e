package browser

import (
	"fmt"
	"strings"

	"github.com/chromedp/chromedp/kb"
)

// most is how often Tab is pressed before a thing counts as out of reach.
const most = 250

// TabTo presses Tab until the focus stands on a thing. It fails where the thing
// is out of reach, or where a person could not see that the focus is there.
func (p *Page) TabTo(role, name string) error {
	if _, err := find[bool](p, role, name, `return !e.disabled || null`); err != nil {
		return err
	}
	for range most {
		at, err := find[string](p, role, name, `
			const on = e.control ?? e, a = document.activeElement
			if (a !== on) return 'elsewhere'
			const marked = [e, a, a.parentElement].some((m) => {
				const s = getComputedStyle(m)
				return s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) > 0 || s.boxShadow !== 'none' })
			if (!marked) return 'without a mark'
			const r = e.getBoundingClientRect(), x = r.x + r.width / 2, y = r.y + r.height / 2
			const top = document.elementFromPoint(x, y)
			return top && (e.contains(top) || top.contains(e) || a.contains(top)) ? '' : 'under something else'`)
		switch {
		case err != nil:
			return err
		case at == "":
			return nil
		case at != "elsewhere":
			return fmt.Errorf("the focus on the %s %q is %s", role, name, at)
		}
		if err := p.Key(kb.Tab); err != nil {
			return err
		}
	}
	return fmt.Errorf("the %s %q is not reached by %d presses of Tab", role, name, most)
}

// Enter goes to a thing by Tab and presses Enter.
func (p *Page) Enter(role, name string) error {
	if err := p.TabTo(role, name); err != nil {
		return err
	}
	return p.Key(kb.Enter)
}

// Write goes to a field by Tab, replaces what stands there key by key and
// leaves it.
func (p *Page) Write(label, text string) error {
	if err := p.TabTo("field", label); err != nil {
		return err
	}
	if _, err := find[bool](p, "field", label, `e.select(); return true`); err != nil {
		return err
	}
	return p.Key(text + kb.Tab)
}

// Dial goes to a drop-down by Tab, types the first word of an option and goes
// on by arrows until it stands there.
func (p *Page) Dial(label, option string) error {
	if err := p.TabTo("field", label); err != nil {
		return err
	}
	word, _, _ := strings.Cut(option, " ")
	if err := p.Key(word); err != nil {
		return err
	}
	for range 40 {
		at, err := p.Value(label)
		if err != nil || at == option {
			return err
		}
		if err := p.Key(kb.ArrowDown); err != nil {
			return err
		}
	}
	return fmt.Errorf("%q is not reached in %q", option, label)
}
