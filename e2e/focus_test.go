package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// acts numbers what can be pressed on a screen, one of each kind, and returns the kinds.
const acts = `(known) => {
	const kinds = [];
	for (const el of document.querySelectorAll('main button, main :is([type=checkbox], [type=radio]):is([hx-post], [hx-get], [hx-post] *, [hx-get] *), #notice button')) {
		if (el.disabled || !el.checkVisibility() || el.closest('dialog') || /sign-out|sessions/.test(el.form?.action ?? '')) continue;
		const act = (el.getAttribute('hx-post') ?? el.getAttribute('hx-get') ?? el.formAction ?? '').replace(/.*?:\/\/[^/]*/, '').replace(/\d+|=[\w-]*/g, '');
		const kind = [el.tagName, act, el.name ?? '', el.closest('form')?.getAttribute('hx-post')?.replace(/\d+/g, '') ?? '', el.tagName === 'INPUT' || /[a-z]\/+[a-z]/.test(act) ? '' : (el.getAttribute('aria-label') ?? el.textContent).trim().split(/[\s:]/)[0]].join(' ');
		if (known.includes(kind) || kinds.includes(kind)) continue;
		el.dataset.act = kind;
		kinds.push(kind);
	}
	return kinds;
}`

// Whatever is pressed with the keyboard, the hand is somewhere afterwards: what was pressed, what
// came in its place, or the next thing to do; never nowhere. One act of each kind, on every screen (in
// turn, see inTurn).
func TestTheHandIsNeverNowhere(t *testing.T) {
	h := start(t, "demo")
	show := leafing(t, browser(t), 1280, 800)
	known := []string{}
	for i, at := range screens {
		if !inTurn(i) {
			continue
		}
		p := show(h.app + at)
		calm(t, p)
		for range 40 {
			var next string
			for _, k := range p.MustEval(acts, known).Arr() {
				next = k.Str()
				break
			}
			if next == "" {
				break
			}
			known = append(known, next)
			pressed(t, p, at, next)
			if p.MustEval(`() => Boolean(document.querySelector('dialog[open]'))`).Bool() { // else it would take all that comes
				require.NoError(t, p.Keyboard.Type(input.Escape))
				waitFor(t, p, `!document.querySelector('dialog[open]')`)
			}
			if strings.TrimPrefix(p.MustInfo().URL, h.app) != at {
				p.MustNavigate(h.app + at).MustWaitLoad()
				calm(t, p)
			}
		}
	}
	t.Log(len(known), "kinds of acts")
	assert.Greater(t, len(known), 40)
}

// pressed presses what is one of a kind with the keyboard, and asserts that the hand is somewhere
// afterwards, unless it led to another screen.
func pressed(t *testing.T, p *rod.Page, at, kind string) {
	t.Helper()
	was := p.MustInfo().URL
	leaves := p.MustEval(`(kind) => {
		const el = [...document.querySelectorAll('[data-act]')].find((el) => el.dataset.act === kind);
		el.focus();
		const sends = el.type === 'submit' && el.form?.method === 'post' && !el.closest('[hx-post], [hx-get]') && !el.form.hasAttribute('hx-post');
		window.before = true;
		return Boolean(sends && (el.formNoValidate || el.form.checkValidity()));
	}`, kind).Bool()
	key := input.Enter
	if strings.HasPrefix(kind, "INPUT") {
		key = input.Space
	}
	require.NoError(t, p.Keyboard.Type(key))
	if leaves {
		waitFor(t, p, `!window.before && document.readyState === 'complete'`)
	}
	calm(t, p)
	if _, err := p.Eval(`() => new Promise((r) => setTimeout(() => setTimeout(r)))`); err != nil { // what goes on after an answer
		require.ErrorContains(t, err, "navigated") // it leads to another screen at this moment
		p.MustWaitLoad()
	}
	calm(t, p)
	if p.MustInfo().URL != was {
		return
	}
	where := p.MustEval(`() => { const el = document.activeElement; return !el || el === document.body ? 'nowhere' : [el.tagName, el.id, el.className, el.getAttribute('aria-label') ?? el.textContent].join(' ').replace(/\s+/g, ' ').slice(0, 80); }`).Str()
	t.Logf("%s: %s -> %s", at, kind, where)
	assert.NotEqual(t, "nowhere", where, "%s: %s", at, kind)
}
