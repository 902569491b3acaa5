package e2e

import (
	"io"
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// From a new folder to the first picture that visitors see: at most ten clicks and four fields, of
// which three are the keeper's account.
func TestTheFirstHour(t *testing.T) {
	h := empty(t)
	clicks, fields := 0, 0
	p := open(t, browser(t), h.app+"/first?code="+h.code, 1280, 800, 1)
	click := func(selector string, pattern ...string) {
		t.Helper()
		hit(t, p, selector, pattern...)
		clicks++
	}
	fill := func(selector, text string) {
		t.Helper()
		focus(t, p, selector)
		require.NoError(t, p.InsertText(text))
		fields++
	}
	fill("[name=name]", "Ines Varrow")
	fill("[name=login]", "ines")
	fill("[name=password]", "four words in a row")
	click(".door-form .primary", "Begin")
	waitText(t, p, ".welcome-steps .here", "What it is")
	click(".welcome button", "Skip all")
	waitText(t, p, ".file", "Our first page")
	click(`.gap[data-gap="0"]`)
	waitText(t, p, ".panel h2", "Place a picture|What comes here")
	clicks++ // on the button for photos, which opens the system's own window
	p.MustElement("#photos-here").MustSetFiles(freshPhoto(t, "IMG_2140.JPG", "IMG_9701"))
	waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
	fill("#finish-alt", alt)
	click(".panel .primary")
	waitText(t, p, ".panel h2", "Sign-off")
	calm(t, p)
	click(".panel .primary", "Publish")
	waitText(t, p, ".report", "all is well")
	at := p.MustEval(`() => [...document.querySelectorAll('a')].find((a) => a.textContent.includes('as a visitor'))?.href ?? ''`).Str()
	require.NotEmpty(t, at)
	res, err := http.Get(at) //nolint:noctx // a visitor's
	require.NoError(t, err)
	defer res.Body.Close()
	live, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Contains(t, string(live), alt)
	t.Log(clicks, "clicks", fields, "fields")
	assert.LessOrEqual(t, clicks, 10)
	assert.LessOrEqual(t, fields, 4)
}
