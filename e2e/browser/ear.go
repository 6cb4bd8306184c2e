package browser

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/chromedp/cdproto/accessibility"
	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/dom"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/chromedp"
)

// Said is one thing of the page as a screen reader has it.
type Said struct {
	Role, Name, Value string
	node              cdp.BackendNodeID
}

// aloud is what a screen reader calls the roles of the page.
var aloud = map[string][]string{
	"button": {"button", "radio", "DisclosureTriangle"}, "link": {"link"}, "tab": {"tab"}, "heading": {"heading"},
	"field": {"textbox", "combobox", "spinbutton", "Date", "searchbox"}, "status": {"status", "alert"},
}

// Read returns all that a screen reader would find, in its order.
func (p *Page) Read() ([]Said, error) {
	var said []Said
	err := chromedp.Do(p.ctx, chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		tree, err := cdp.Call(ctx, t, accessibility.GetFullAXTree, accessibility.GetFullAXTreeParams{})
		if err != nil {
			return err
		}
		for _, n := range tree.Nodes {
			if !n.Ignored {
				said = append(said, Said{text(n.Role), text(n.Name), text(n.Value), n.BackendDOMNodeID})
			}
		}
		return nil
	}))
	return said, err
}

func text(v *accessibility.Value) string {
	if v == nil {
		return ""
	}
	var s any
	if json.Unmarshal(v.Value, &s) != nil || s == nil {
		return ""
	}
	return strings.Join(strings.Fields(fmt.Sprint(s)), " ")
}

// Hear waits until a screen reader finds a thing of a role whose name begins
// with the one wanted.
func (p *Page) Hear(role, name string) (Said, error) {
	deadline := time.Now().Add(patience)
	for {
		all, err := p.Read()
		for _, exact := range []bool{true, false} {
			for _, s := range all {
				if is(s.Role, role) && (s.Name == name || !exact && strings.HasPrefix(s.Name, name)) {
					return s, nil
				}
			}
		}
		if time.Now().After(deadline) {
			heard := make([]string, 0, len(all))
			for _, s := range all {
				heard = append(heard, s.Role+" "+s.Name)
			}
			return Said{}, fmt.Errorf("no %s %q is heard (%w); but\n%s", role, name, err, strings.Join(heard, "\n"))
		}
		time.Sleep(60 * time.Millisecond)
	}
}

func is(role, wanted string) bool {
	for _, r := range aloud[wanted] {
		if r == role {
			return true
		}
	}
	return false
}

// Act presses what was heard, as a screen reader does for its user.
func (p *Page) Act(role, name string) error {
	return p.onHeard(role, name, `function() { this.focus(); this.click() }`)
}

// Dictate replaces what a field that was heard holds.
func (p *Page) Dictate(label, words string) error {
	if err := p.onHeard("field", label, `function() { this.focus(); this.select() }`); err != nil {
		return err
	}
	if err := p.insert(words); err != nil {
		return err
	}
	return p.onHeard("field", label, `function() { this.blur() }`)
}

// onHeard does something with what was heard; what the page has drawn anew since, or
// tells to be greyed out for now, is heard once more.
func (p *Page) onHeard(role, name, does string) error {
	for deadline := time.Now().Add(patience); time.Now().Before(deadline); {
		s, err := p.Hear(role, name)
		if err != nil {
			return err
		}
		there := false
		err = chromedp.Do(p.ctx, chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
			node, err := cdp.Call(ctx, t, dom.ResolveNode, dom.ResolveNodeParams{BackendNodeID: s.node})
			if err != nil {
				return nil //nolint:nilerr // it is gone
			}
			got, err := cdp.Call(ctx, t, runtime.CallFunctionOn, runtime.CallFunctionOnParams{ObjectID: node.Object.ObjectID,
				FunctionDeclaration: `function() {
					if (!this.isConnected || this.matches(':disabled')) return 'gone';
					(` + does + `).call(this); return 'there' }`})
			there = err == nil && string(got.Result.Value) == `"there"`
			return err
		}))
		if err != nil || there {
			return err
		}
		time.Sleep(50 * time.Millisecond)
	}
	return fmt.Errorf("the %s called %q is drawn anew whenever it is pressed, or greyed out", role, name)
}
