package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Escape closes the menu or form around the focus, gives the focus to what opens it again, and
// keeps what was typed; a menu over the screen closes for a click elsewhere, too.
func TestEscapeClosesWhatIsOpen(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages", 1280, 800, 1)
	calm(t, p)
	hit(t, p, "#new-page summary")
	focus(t, p, "#new-page [name=title]")
	require.NoError(t, p.InsertText("Frost on the oars"))
	typed(t, p, input.Escape)
	waitFor(t, p, `!document.getElementById('new-page').open && document.activeElement.matches('#new-page summary')`)
	hit(t, p, "#new-page summary")
	assert.Equal(t, "Frost on the oars", p.MustElement("#new-page [name=title]").MustProperty("value").Str())

	hit(t, p, ".who summary")
	p.MustElement(".who a").MustFocus()
	typed(t, p, input.Escape)
	waitFor(t, p, `!document.querySelector('.who[open]') && document.activeElement.matches('.who summary')`)
	hit(t, p, ".who summary")
	waitFor(t, p, `!!document.querySelector('.who[open]')`)
	p.MustElement("h1").MustClick()
	waitFor(t, p, `!document.querySelector('.who[open]')`)

	// On a page a fold of the panel closes first, and then the panel.
	p.MustNavigate(h.app + "/pages/2")
	calm(t, p)
	hit(t, p, ".sheet .placed .hold")
	hit(t, p, "#placing-looks summary")
	focus(t, p, "#air-top")
	typed(t, p, input.Escape)
	waitFor(t, p, `!document.querySelector('#placing-looks[open]') && !!document.querySelector('#placing-looks')`)
	typed(t, p, input.Escape)
	waitFor(t, p, `!document.querySelector('#placing-looks')`)
}

// The ring of the focus is on the button that would act.
func TestTheRingIsOnTheRightButton(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	calm(t, p)
	// ringed are the words of the buttons that look otherwise than they did, with the focus on a field.
	ringed := func(field string) string {
		look := `[...document.querySelectorAll('.strip .button')].map((b) => { const s = getComputedStyle(b); return s.outlineStyle + s.backgroundColor; })`
		p.MustEval(`() => document.activeElement.blur()`)
		before := p.MustEval(`() => ` + look).Arr()
		p.MustElement(field).MustFocus()
		typed(t, p, input.ShiftLeft) // a ring is shown to whoever uses keys
		var all string
		for i, now := range p.MustEval(`() => ` + look).Arr() {
			if now.Str() != before[i].Str() {
				all += p.MustElements(".strip .button")[i].MustText() + ";"
			}
		}
		return all
	}
	assert.Equal(t, "Pick files;", ringed("#files"))
	assert.Equal(t, "Pick a folder;", ringed("#folder"))
}

// A form that is refused says why, and keeps what was typed.
func TestARefusedFormKeepsWhatWasTyped(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages", 1280, 800, 1)
	calm(t, p)
	const taken = "Frost on the oars"
	for range 2 {
		p.MustNavigate(h.app + "/pages")
		calm(t, p)
		hit(t, p, "#new-page summary")
		p.MustElement("#new-page select").MustSelect("Touring")
		write(t, p, "#new-page [name=title]", taken)
		hit(t, p, "#new-page .button.primary")
		waitFor(t, p, `/^.pages.[0-9]+$/.test(location.pathname) || document.getElementById('notice').innerText !== ''`)
	}
	waitText(t, p, "#notice", `Frost on the oars|frost-on-the-oars`)
	assert.Equal(t, "/pages", p.MustEval(`() => location.pathname`).Str())
	assert.Equal(t, taken, p.MustElement("#new-page [name=title]").MustProperty("value").Str())
	assert.Equal(t, "touring", p.MustElement("#new-page select").MustProperty("value").Str())

	// Letters where a number belongs: the figure before stays, and what was typed is told.
	p.MustNavigate(h.app + "/pages/2")
	calm(t, p)
	hit(t, p, ".sheet .placed .hold")
	hit(t, p, "#placing-looks summary")
	write(t, p, "#air-top", "twelve")
	waitText(t, p, "#notice", `“twelve” is not a number`)
	write(t, p, "#air-top", "1.5")
	waitText(t, p, "#notice", `“1.5” is not a whole number`)
	write(t, p, "#air-top", "12")
	calm(t, p)
	assert.Equal(t, "12", p.MustElement("#air-top").MustProperty("value").Str())
}

// An address that is typed is where the picture leads, whatever was chosen before.
func TestAnAddressTypedFirstIsKept(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/2", 1280, 800, 1)
	calm(t, p)
	hit(t, p, ".sheet .placed .hold")
	waitFor(t, p, `!!document.querySelector('#address')`)
	leads := `!!document.querySelector('#link-address')?.checked && document.querySelector('#address').value === '/juniors/autumn'`
	require.False(t, p.MustEval(`() => document.querySelector('#link-address').checked`).Bool())
	write(t, p, "#address", "/juniors/autumn")
	waitFor(t, p, leads)
	calm(t, p)
	p.MustReload()
	calm(t, p)
	hit(t, p, ".sheet .placed .hold")
	waitFor(t, p, leads)
	// It leads nowhere again when that is chosen, with the address still in its field.
	hit(t, p, "#link-none")
	calm(t, p)
	reopened(t, p, `!!document.querySelector('#link-none')?.checked`)
}

// reopened opens the panel of the first picture anew.
func reopened(t *testing.T, p *rod.Page, holds string) {
	t.Helper()
	p.MustReload()
	calm(t, p)
	hit(t, p, ".sheet .placed .hold")
	waitFor(t, p, holds)
}
