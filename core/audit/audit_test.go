package audit_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/audit"
	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/core/words"
)

func work(t *testing.T) audit.Picture {
	t.Helper()
	slot, ok := rules.Default().Slot("column")
	require.True(t, ok)
	return audit.Picture{Facts: facts.Facts{Stored: fit.Size{W: 6000, H: 4000}, Frames: 1}, Slot: &slot,
		Name: "juniors-first-launch", Said: words.Said{Alt: "A junior pushes off for the first time"}, Section: "juniors", House: rules.Default()}
}

func TestFinishedPictureHasNoFindings(t *testing.T) {
	assert.Empty(t, audit.Check(work(t)))
}

// Every finding is raised by one change and mended by taking it back.
func TestFindings(t *testing.T) {
	for name, c := range map[string]struct {
		change func(*audit.Picture)
		level  words.Level
		step   audit.Stretch
	}{
		"no slot":             {func(w *audit.Picture) { w.Slot = nil }, words.Stop, audit.Fit},
		"camera name":         {func(w *audit.Picture) { w.Name = "DSC_0417" }, words.Stop, audit.Name},
		"no alt":              {func(w *audit.Picture) { w.Said.Alt = "" }, words.Stop, audit.Describe},
		"motion not read":     {func(w *audit.Picture) { w.Facts.Frames, w.Facts.MediaType = 24, "image/avif" }, words.Warn, audit.Fit},
		"frame below 1":       {frame(600), words.Stop, audit.Frame},
		"frame below 1.5":     {frame(900), words.Warn, audit.Frame},
		"alt begins oddly":    {func(w *audit.Picture) { w.Said.Alt = "Photo of a junior in a boat" }, words.Hint, audit.Describe},
		"refused, not hidden": {seen(consent.Entry{State: consent.Refused}), words.Stop, audit.Hide},
		"refused, another is hidden": {func(w *audit.Picture) {
			w.Recipe.Edits = append(w.Recipe.Edits, recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{ID: "a", Shape: veil.Rect, Bounds: image.Rect(0, 0, 90, 90), Style: veil.Cover}})
			w.Seen = []consent.Entry{{State: consent.Refused, Veils: []string{"b"}}}
		}, words.Stop, audit.Hide},
		"consent ends today": {seen(consent.Entry{State: consent.Allowed, Until: "2026-09-01"}), words.Stop, audit.Hide},
		"not asked":          {seen(consent.Entry{State: consent.Unasked}), words.Warn, audit.Describe},
		"no credit":          {func(w *audit.Picture) { w.House.Words.CreditAsked = true }, words.Warn, audit.Describe},
		"consent not asked":  {func(w *audit.Picture) { w.House.Words.ConsentAsked = true }, words.Warn, audit.Describe},
		"section forgotten":  {func(w *audit.Picture) { w.Name = "first-launch" }, words.Stop, audit.Name},
	} {
		w := work(t)
		c.change(&w)
		at := audit.At(audit.Check(w), c.step)
		if assert.NotEmpty(t, at, name) {
			assert.Equal(t, c.level, at[0].Level, name)
		}
		assert.Equal(t, c.level == words.Stop, len(audit.Stops(audit.Check(w))) > 0, name)
	}
}

func seen(e consent.Entry) func(*audit.Picture) {
	return func(w *audit.Picture) { w.Seen, w.Today = []consent.Entry{e}, "2026-09-01" }
}

func frame(width int) func(*audit.Picture) {
	return func(w *audit.Picture) {
		w.Recipe, _ = w.Recipe.WithFrame(image.Rect(0, 0, width, 400), w.Facts.Upright())
	}
}

func TestFrameOfOneAndAHalfIsCrispEnough(t *testing.T) {
	w := work(t)
	frame(960)(&w) // 960 / 640 = 1.5
	assert.Empty(t, audit.Check(w))
}

func TestMotionThatIsKeptIsNoFinding(t *testing.T) {
	w := work(t)
	w.Facts.Frames, w.Facts.MediaType = 24, "image/gif"
	assert.Empty(t, audit.Check(w))
}
