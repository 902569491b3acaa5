package e2e

import (
	"os"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
)

// Any caption that the editor can hold goes into CommonMark and out again unchanged, and says the
// same to the reader that makes live pages.
func TestCaptionsGoInAndOutUnchanged(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	random, err := os.ReadFile("words/random.js")
	require.NoError(t, err)
	res, err := p.Evaluate(inBridge(p, `(many, shown) => {
		const make = (`+strings.TrimRight(string(random), ";\n")+`)(schema, 20261128), bad = [], some = [];
		for (let i = 0; i < many; ) {
			make().descendants((node) => {
				if (!node.isTextblock || !node.childCount) return;
				const caption = schema.nodes.caption.create(null, node.children.filter((part) => part.isText));
				const wanted = tidyCaption(caption), text = writeCaption(caption), back = readCaption(text);
				if (!back || !back.eq(wanted) || writeCaption(back) !== text) bad.push(text);
				if (some.length < shown) some.push([text, html(wanted)]);
				i++;
			});
		}
		return { bad, some };
	}`, 3000, 600))
	require.NoError(t, err)
	for _, text := range res.Value.Get("bad").Arr() {
		t.Errorf("comes back as something else:\n%s", text.Str())
	}
	pairs := res.Value.Get("some").Arr()
	require.Len(t, pairs, 600)
	for _, pair := range pairs {
		text := pair.Get("0").Str()
		if want, got := plainly(t, pair.Get("1").Str()), plainly(t, page.CaptionHTML(text)); want != got {
			t.Errorf("says something else on a page:\n%s\neditor: %s\npage:   %s", text, want, got)
		}
	}
	// What a caption cannot hold opens as text.
	for text, held := range map[string]bool{"Red led, **yellow** followed.": true, "1. of many": true, "# first": true, "<b>": true, "": true, "`code`": false, "![x](y)": false, `[a](/b "title")`: false} {
		res, err := p.Evaluate(inBridge(p, `(text) => Boolean(readCaption(text))`, text))
		require.NoError(t, err)
		assert.Equal(t, held, res.Value.Bool(), text)
	}
}

// The title, a caption and a description are written where they stand; the panel of the picture
// stays open, and a caption has strong words and links.
func TestLinesAreWrittenWhereTheyStand(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/2", 1280, 800, 1)
	calm(t, p)

	// The title: a click, words, Enter; Escape leaves it as it was.
	hit(t, p, ".sheet h1")
	waitFor(t, p, `document.activeElement?.ariaLabel === 'Title of the page'`)
	require.NoError(t, p.InsertText(", again"))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitText(t, p, ".sheet h1", "^Where things hang, again$")
	calm(t, p)
	hit(t, p, ".sheet h1")
	waitFor(t, p, `document.activeElement?.ariaLabel === 'Title of the page'`)
	require.NoError(t, p.InsertText(" and again"))
	require.NoError(t, p.Keyboard.Type(input.Escape))
	waitText(t, p, ".sheet h1", "^Where things hang, again$")
	calm(t, p)
	hit(t, p, ".sheet h1")
	waitFor(t, p, `document.activeElement?.ariaLabel === 'Title of the page'`)
	assert.Equal(t, "Where things hang, again", p.MustElement(".title-write input[name=text]").MustProperty("value").Str(), "nothing of it was kept")
	require.NoError(t, p.Keyboard.Type(input.Enter)) // unchanged
	waitText(t, p, ".sheet h1", "^Where things hang, again$")
	calm(t, p)

	// A caption.
	hit(t, p, ".sheet figcaption")
	waitFor(t, p, `document.activeElement?.matches('figcaption .ProseMirror')`)
	calm(t, p)
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type('a').Release(input.ControlLeft).Do())
	require.NoError(t, p.InsertText("Numbers run "))
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type('b').Release(input.ControlLeft).Do())
	require.NoError(t, p.InsertText("down"))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `!document.querySelector('.write') && document.querySelector('.sheet figcaption strong')?.textContent === 'down'`)
	calm(t, p)
	assert.Equal(t, "Numbers run **down**", p.MustElement("#caption").MustProperty("value").Str(), "the panel has it as text")
	waitFor(t, p, `!!document.activeElement?.closest('figcaption')`)

	// A description, which is the usual one of the picture.
	hit(t, p, ".described")
	waitFor(t, p, `document.activeElement?.matches('.described textarea')`)
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type('a').Release(input.ControlLeft).Do())
	require.NoError(t, p.InsertText("Boats lie on a rack of wood"))
	p.MustEval(`() => document.activeElement.blur()`)
	waitFor(t, p, `document.querySelector('.sheet .held img')?.alt === 'Boats lie on a rack of wood'`)
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Escape))
	waitFor(t, p, `!document.querySelector('.held') && !!document.querySelector('[data-key="p"]:not([disabled])')`)
	calm(t, p)
	require.NoError(t, p.Keyboard.Type('p'))
	waitText(t, p, ".panel", "already see it like this")
	live := body(t, h.site+"/boatshed/where-things-hang")
	for _, want := range []string{"<h1>Where things hang, again</h1>", "<figcaption>Numbers run <strong>down</strong></figcaption>", `alt="Boats lie on a rack of wood"`} {
		assert.True(t, strings.Contains(live, want), want)
	}

	// A caption is taken away, and a picture without one gets one; what somebody else wrote
	// meanwhile is told.
	hit(t, p, ".sheet figcaption")
	waitFor(t, p, `document.activeElement?.matches('figcaption .ProseMirror')`)
	calm(t, p)
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type('a').Release(input.ControlLeft).Do())
	require.NoError(t, p.Keyboard.Type(input.Backspace, input.Enter))
	waitFor(t, p, `!!document.querySelector('.held .to-write')`)
	calm(t, p)
	hit(t, p, ".held .to-write button")
	waitFor(t, p, `document.activeElement?.matches('figcaption .ProseMirror')`)
	other := open(t, browser(t), h.app+"/pages/2", 1280, 800, 1)
	calm(t, other)
	block := p.MustEval(`() => document.querySelector('figcaption form').elements.at.value`).Str()
	hit(t, other, `.placed[data-block="`+block+`"] .hold`)
	waitFor(t, other, `!!document.querySelector('.held .to-write')`)
	calm(t, other)
	hit(t, other, ".held .to-write button")
	waitFor(t, other, `document.activeElement?.matches('figcaption .ProseMirror')`)
	require.NoError(t, other.InsertText("Theirs"))
	require.NoError(t, other.Keyboard.Type(input.Enter))
	waitText(t, other, ".held figcaption", "Theirs")
	require.NoError(t, p.InsertText("Mine"))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitText(t, p, ".clash blockquote", "Theirs")
	hit(t, p, ".clash ~ .primary, .write .primary", "Keep mine")
	waitText(t, p, ".held figcaption", "^Mine")
}
