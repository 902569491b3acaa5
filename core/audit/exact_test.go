package audit_test

import (
	"fmt"
	"image"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/audit"
	"mivlet/core/consent"
	"mivlet/core/face"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/core/words"
)

// told are findings by their codes, with their levels and values.
func told(fs []audit.Finding) []string {
	var all []string
	for _, f := range fs {
		all = append(all, fmt.Sprint(f.Level, " ", f.Code, " ", f.Values))
	}
	return all
}

// Who is seen, and which faces are open, decide together what is asked.
func TestFacesAndAnswers(t *testing.T) {
	someone := face.Face{Bounds: image.Rect(100, 100, 200, 200), Score: .9}
	other := face.Face{Bounds: image.Rect(3000, 100, 3100, 200), Score: .9}
	over := recipe.Edit{Op: recipe.OpVeil, Veil: &veil.Veil{ID: "a", Shape: veil.Rect, Bounds: image.Rect(50, 50, 260, 260), Style: veil.Cover}}
	refused := consent.Entry{ID: "r", State: consent.Refused}
	unasked := consent.Entry{ID: "u", State: consent.Unasked, Veils: []string{"a"}}
	allowed := consent.Entry{ID: "y", State: consent.Allowed}
	for name, c := range map[string]struct {
		change func(*audit.Picture)
		want   []string
	}{
		"a face, and nobody noted":   {func(w *audit.Picture) { w.Faces = []face.Face{someone} }, []string{"warn open-face [1]"}},
		"where the house stops it":   {func(w *audit.Picture) { w.Faces = []face.Face{someone, other}; w.House.Hiding.FacesStop = true }, []string{"stop open-face [2]"}},
		"somebody agreed":            {func(w *audit.Picture) { w.Faces, w.Seen = []face.Face{someone}, []consent.Entry{allowed} }, nil},
		"somebody was not asked yet": {func(w *audit.Picture) { w.Faces, w.Seen = []face.Face{someone}, []consent.Entry{allowed, unasked} }, []string{"warn unasked [1]", "warn open-face [1]"}},
		"a face that may be seen":    {func(w *audit.Picture) { w.Faces, w.Left = []face.Face{someone}, []string{someone.ID()} }, nil},
		"a face under a veil":        {func(w *audit.Picture) { w.Faces, w.Recipe.Edits = []face.Face{someone}, []recipe.Edit{over} }, nil},
		"one of two under a veil":    {func(w *audit.Picture) { w.Faces, w.Recipe.Edits = []face.Face{someone, other}, []recipe.Edit{over} }, []string{"warn open-face [1]"}},
		"not asked, and covered":     {func(w *audit.Picture) { w.Seen, w.Recipe.Edits = []consent.Entry{unasked}, []recipe.Edit{over} }, nil},
		"two refused, no face found": {func(w *audit.Picture) { w.Seen = []consent.Entry{refused, refused} }, []string{"stop refused [2]"}},
		"refused, with a face open":  {func(w *audit.Picture) { w.Faces, w.Seen = []face.Face{someone}, []consent.Entry{refused} }, []string{"stop refused-face [1]"}},
		"an answer that ended": {func(w *audit.Picture) {
			w.Seen, w.Today = []consent.Entry{{State: consent.Allowed, Until: "2026-09-01"}}, "2026-09-02"
		}, []string{"stop ended [1]"}},
		"noted, where it must be":      {func(w *audit.Picture) { w.Seen, w.House.Words.ConsentAsked = []consent.Entry{allowed}, true }, nil},
		"not noted, where it must be":  {func(w *audit.Picture) { w.House.Words.ConsentAsked = true }, []string{"warn nobody-noted []"}},
		"a frame of the slot's pixels": {frame(640), []string{"warn little-soft [1]"}},
		"one pixel fewer":              {frame(639), []string{"stop soft [639 640]"}},
		"the same, for one density": {func(w *audit.Picture) {
			frame(640)(w)
			s := *w.Slot
			s.Densities = []float64{1, 1.75}
			w.Slot = &s
		}, nil},
	} {
		w := work(t)
		c.change(&w)
		assert.Equal(t, c.want, told(audit.Check(w)), name)
	}
}

// What is offered is exact: the width that the pixels are enough for, the level that
// follows, the slot that is nearest.
func TestWhatIsOfferedIsExact(t *testing.T) {
	house := rules.Default()
	column, _ := house.Slot("column")
	side, _ := house.Slot("side")
	at := func(p *audit.Page, i int) *page.Placement { return p.Doc.Blocks[i].Placement }
	stored := func(w, h int) func(*audit.Page) {
		return func(p *audit.Page) {
			one := p.Works[1]
			one.Facts.Stored = fit.Size{W: w, H: h}
			p.Works[1] = one
		}
	}
	// As wide as the budget lasts for, less a twentieth, since bytes follow the area.
	lighter := func(bytes int64) string {
		return fmt.Sprint(math.Floor(float64(column.Width) * math.Sqrt(float64(column.Budget)/float64(bytes)) * 0.95))
	}
	least := int64(float64(column.Budget) * math.Pow(float64(column.Width)*0.95/50.5, 2)) // for a width of 50 and a half
	for name, c := range map[string]struct {
		raise func(*audit.Page)
		want  []audit.Mend
	}{
		"soft on every screen":          {stored(500, 400), []audit.Mend{{Do: audit.SetWidth, Value: "500"}}},
		"crisp only on plain screens":   {stored(800, 600), []audit.Mend{{Do: audit.SetWidth, Value: "400"}}},
		"too few pixels for any width":  {stored(49, 40), []audit.Mend{{}}},
		"the fewest that make a width":  {stored(50, 40), []audit.Mend{{Do: audit.SetWidth, Value: "50"}}},
		"as heavy as it may be":         {func(p *audit.Page) { p.Weights[audit.WeightOf("a", 0)] = column.Budget }, nil},
		"a byte more":                   {func(p *audit.Page) { p.Weights[audit.WeightOf("a", 0)] = column.Budget + 1 }, []audit.Mend{{Do: audit.SetWidth, Value: lighter(column.Budget + 1)}}},
		"far too heavy":                 {func(p *audit.Page) { p.Weights[audit.WeightOf("a", 0)] = 7 * column.Budget }, []audit.Mend{{Do: audit.SetWidth, Value: lighter(7 * column.Budget)}}},
		"so heavy that 50 px are left":  {func(p *audit.Page) { p.Weights[audit.WeightOf("a", 0)] = least }, []audit.Mend{{Do: audit.SetWidth, Value: "50"}}},
		"so heavy that no width is":     {func(p *audit.Page) { p.Weights[audit.WeightOf("a", 0)] = least * 11 / 10 }, []audit.Mend{{}}},
		"a level left out":              {func(p *audit.Page) { p.Doc.Blocks[0].Level = 3 }, []audit.Mend{{Do: audit.SetLevel, Value: "2"}}},
		"the next level":                {func(p *audit.Page) { p.Doc.Blocks[1] = page.Block{ID: "t", Kind: page.Heading, Text: "Then", Level: 3} }, nil},
		"two levels deeper":             {func(p *audit.Page) { p.Doc.Blocks[1] = page.Block{ID: "t", Kind: page.Heading, Text: "Then", Level: 4} }, []audit.Mend{{Do: audit.SetLevel, Value: "3"}}},
		"a slot that is gone":           {func(p *audit.Page) { at(p, 2).Slot = "poster" }, []audit.Mend{{Do: audit.SetSlot, Value: "wide"}}},
		"wider than its own slot":       {func(p *audit.Page) { at(p, 3).Rule = &layout.Rule{Fixed: side.Width + 1} }, nil},
		"a moved link":                  {func(p *audit.Page) { p.Doc.Blocks[1].Text = "See [old](/juniors/old)." }, []audit.Mend{{Do: audit.Relink, Value: "/juniors/old /juniors/autumn"}}},
		"a picture with capital ending": {func(p *audit.Page) { p.Doc.Blocks[1].Text = "See [it](https://paddle.example/A.JPG)." }, []audit.Mend{{Do: audit.DropLink, Value: "https://paddle.example/A.JPG"}}},
	} {
		p := fine(t)
		c.raise(&p)
		var got []audit.Mend
		for _, f := range audit.CheckPage(p) {
			got = append(got, f.Mend)
		}
		assert.Equal(t, c.want, got, name)
	}
}

// A picture is held against the words right before and after it, and against all other
// pictures of the page.
func TestWhatAPictureIsHeldAgainst(t *testing.T) {
	alt := "A junior pushes off for the first time" // of picture 1, in block a
	text := func(id, words string) page.Block { return page.Block{ID: id, Kind: page.Text, Text: words} }
	picture := func(id string, n uint) page.Block {
		return page.Block{ID: id, Kind: page.Picture, Placement: &page.Placement{Picture: n, Slot: "column", Side: page.Centre}}
	}
	place := func(n uint) page.Placement { return page.Placement{Picture: n, Slot: "half", Side: page.None} }
	third := func(p *audit.Page) {
		w := p.Works[2]
		w.Name, w.Said.Alt = "juniors-third-launch", alt
		p.Works[3] = w
	}
	for name, c := range map[string]struct {
		blocks []page.Block
		change func(*audit.Page)
		want   []string
	}{
		"the text before":                {[]page.Block{text("t", alt), picture("a", 1)}, nil, []string{"a same-as-text"}},
		"the text behind":                {[]page.Block{picture("a", 1), text("t", alt)}, nil, []string{"a same-as-text"}},
		"a text farther away":            {[]page.Block{text("t", alt), text("u", "Then."), picture("a", 1), text("v", "So."), text("w", alt)}, nil, nil},
		"a heading before":               {[]page.Block{{ID: "h", Kind: page.Heading, Text: alt}, picture("a", 1)}, nil, nil},
		"the words beside it":            {[]page.Block{{ID: "a", Kind: page.Beside, Text: alt, Placement: &page.Placement{Picture: 1, Slot: "side", Side: page.Left}}}, nil, []string{"a same-as-text"}},
		"another picture, far away":      {[]page.Block{picture("a", 1), text("t", "One."), text("u", "Two."), picture("b", 3)}, third, []string{"a same-as-other", "b same-as-other"}},
		"the other of a pair":            {[]page.Block{{ID: "a", Kind: page.Pair, Pictures: []page.Placement{place(1), place(3)}}}, third, []string{"a same-as-other", "a same-as-other"}},
		"the same picture twice":         {[]page.Block{picture("a", 1), picture("b", 1)}, nil, nil},
		"a place that waits":             {[]page.Block{picture("a", 1), picture("b", 0)}, func(p *audit.Page) { w := p.Works[1]; p.Works[0] = w }, []string{"b empty-place"}},
		"said of the place, not of it":   {[]page.Block{text("t", alt), {ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.Centre, Alt: "She is off"}}}, nil, nil},
		"described as elsewhere":         {[]page.Block{picture("a", 1), {ID: "b", Kind: page.Picture, Placement: &page.Placement{Picture: 2, Slot: "column", Side: page.Centre, Alt: alt}}}, nil, []string{"a same-as-other", "b same-as-other"}},
		"decorative, but described here": {[]page.Block{{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.Centre, Alt: "She is off"}}}, func(p *audit.Page) { w := p.Works[1]; w.Said.Decorative, w.Said.Alt = true, ""; p.Works[1] = w }, nil},
		"decorative, without a reason":   {[]page.Block{picture("a", 1)}, func(p *audit.Page) { w := p.Works[1]; w.Said.Decorative, w.Said.Alt = true, ""; p.Works[1] = w }, []string{"a decorative-reason"}},
		"decorative here alone":          {[]page.Block{{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.Centre, Decorative: true}}}, nil, nil},
		"a caption that says the same":   {[]page.Block{{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.Centre, Caption: alt}}}, nil, []string{"a same-as-caption"}},
	} {
		p := fine(t)
		p.Doc.Blocks = c.blocks
		if c.change != nil {
			c.change(&p)
		}
		var got []string
		for _, f := range audit.CheckPage(p) {
			code := string(f.Code)
			if len(f.Values) == 1 {
				if r, ok := f.Values[0].(words.Remark); ok {
					code = string(r.Code)
				}
			}
			got = append(got, f.Block+" "+code)
		}
		assert.Equal(t, c.want, got, name)
	}
}

// A fix for a picture that has gone in the meantime says which one it was, counted from 1.
func TestAFixThatComesTooLate(t *testing.T) {
	d := fine(t).Doc
	_, err := audit.OnPage{Block: "a", Nth: 2, Mend: audit.Mend{Do: audit.SetWidth, Value: "300"}}.Apply(d)
	assert.ErrorContains(t, err, "no picture 3")
	_, err = audit.OnPage{Block: "gone", Mend: audit.Mend{Do: audit.DropBlock}}.Apply(d)
	assert.ErrorContains(t, err, "no block gone")
	_, err = audit.OnPage{Block: "a", Mend: audit.Mend{Do: "paint it"}}.Apply(d)
	assert.ErrorContains(t, err, "paint it")
	_, err = audit.OnPage{Block: "a", Mend: audit.Mend{Do: audit.SetWidth, Value: "wide"}}.Apply(d)
	assert.Error(t, err)
}
