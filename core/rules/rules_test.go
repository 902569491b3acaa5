package rules_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Text columns are 450 to 810 CSS px wide, pictures beside text 200 to 400,
// never wider than 1,000 for a page (1,200 with a side column); sharp screens
// get twice the pixels; a picture is never heavier than 3 MB (common practice).
func TestTheReadyMadeRulesKeepToTheTrade(t *testing.T) {
	require.Len(t, rules.ReadyMade(), 3)
	for _, ready := range rules.ReadyMade() {
		r := ready.Rules
		assert.Empty(t, r.Check(), ready.ID)
		assert.GreaterOrEqual(t, r.TextWidth(), 450, ready.ID)
		assert.LessOrEqual(t, r.TextWidth(), 810, ready.ID)
		side, ok := r.Slot("side")
		require.True(t, ok)
		assert.GreaterOrEqual(t, side.Width, 200)
		assert.LessOrEqual(t, side.Width, 400)
		assert.True(t, r.Place(side).Beside(1280), ready.ID)
		assert.LessOrEqual(t, r.PageWidth(), 1200)
		for _, s := range r.Slots {
			assert.Less(t, s.Budget, int64(3_000_000), s.ID)
			if s.ID != "link" {
				assert.Equal(t, 2.0, s.Sharpest(), s.ID)
			}
		}
		link, _ := r.Slot("link")
		assert.GreaterOrEqual(t, link.Width, 700, "a link picture is at least 700 × 500, about 16:9")
		w, h := link.Ratio()
		assert.Equal(t, [2]int{16, 9}, [2]int{w, h})
	}
	assert.Equal(t, 640, rules.Default().TextWidth())
	assert.Equal(t, 960, rules.Default().PageWidth())
}

func TestSlotsFollowFromTheirColumns(t *testing.T) {
	r := rules.Default()
	half, _ := r.Slot("half")
	assert.Equal(t, 465, half.Width, "(960 − 30) / 2")
	assert.Equal(t, rules.ByColumn, half.Kind())
	wider, err := r.Set("/page/gutter/desktop", "60")
	require.NoError(t, err)
	half, _ = wider.Slot("half")
	assert.Equal(t, 450, half.Width, "change the gutter, and the slots follow")
	for id, kind := range map[string]rules.SlotKind{"strip": rules.ByHeight, "thumb": rules.Box, "wide": rules.ByColumn} {
		s, _ := r.Slot(id)
		assert.Equal(t, kind, s.Kind(), id)
	}
	// Section cap 1100, two equal columns, gutter 0, column padding 30: 490 (worked by hand).
	for path, v := range map[string]string{"/page/cap": "1100", "/page/padding/desktop": "0", "/page/gutter/desktop": "0", "/page/column_padding/desktop": "30"} {
		r, err = r.Set(path, v)
		require.NoError(t, err)
	}
	half, _ = r.Slot("half")
	assert.Equal(t, "1100 − 2·0 − 1·0 = 1100; ÷ 2 = 550; − 2·30 = 490 → 980 px at 2x", r.Place(half).Explain(layout.Widest, 2))
}

func TestRoundTrip(t *testing.T) {
	for _, ready := range rules.ReadyMade() {
		back, err := rules.Parse(ready.Rules.Encode())
		require.NoError(t, err, ready.ID)
		assert.Equal(t, ready.Rules, back)
		assert.Empty(t, rules.Compare(ready.Rules, back))
	}
	assert.NotContains(t, string(rules.Default().Encode()), `"width": 640`, "what follows is not written down")
}

// Every kind of mistake is refused with its place.
func TestMistakesAreRefusedWithTheirPlace(t *testing.T) {
	for name, c := range map[string]struct {
		from, to string // in the document
		at, text string
	}{
		"no JSON":              {`"version": 1,`, `"version": 1`, "line 3", "no JSON"},
		"another version":      {`"version": 1,`, `"version": 9,`, "/version", "9 will not do here. Use 1."},
		"a word for a number":  {`"cap": 990`, `"cap": "wide"`, "/page/cap", `"wide" will not do here. Use a whole number, from 320 to 4000.`},
		"an unknown field":     {`"cap": 990`, `"cap": 990, "depth": 3`, "/page", "not known here: depth"},
		"a narrow page":        {`"cap": 990`, `"cap": 100`, "/page/cap", ""},
		"breaks crossed":       {`"tablet": 600`, `"tablet": 1600`, "/page/breaks/tablet", "before desktops"},
		"an unknown pattern":   {`"pattern": "two"`, `"pattern": "nine"`, "/slots/half/pattern", `no column plan "nine"`},
		"a slot twice":         {`"id": "half"`, `"id": "column"`, "/slots/column", "twice"},
		"an ID with spaces":    {`"id": "half"`, `"id": "Half of it"`, "/slots/Half of it/id", "Use a small letter, then up to 30 small letters, digits and hyphens."},
		"a slot without space": {`"height": 300`, `"height": 0`, "/slots/strip/width", "needs a width"},
		"a tiny budget":        {`"budget": 40000`, `"budget": 10`, "/slots/thumb/budget", "10 will not do here. Use a whole number, at least 1000."},
		"an unknown format":    {`"jpeg",`, `"jpeg2000",`, "/slots/link/formats/0", `Use one of "jpeg", "png", "gif", "webp".`},
		"a type twice":         {`"media_type": "image/png"`, `"media_type": "image/jpeg"`, "/types/image/jpeg", ""},
		"another extension":    {`"extension": ".jpg"`, `"extension": ".jpe"`, "/types/image/jpeg/extension", ".jpg"},
		"refused in silence":   {`"say": "A drawing`, `"say": "", "bytes": "A drawing`, "/types/image/svg+xml/bytes", ""},
		"a colour by name":     {`"#8a8172"`, `"grey"`, "/placing/line_colour", "#8a8172"},
		"an unknown part":      {`"kind": "detail"`, `"kind": "mood"`, "/naming/parts/mood/kind", ""},
		"an unknown sign":      {`"sign": "wave"`, `"sign": "skull"`, "/sections/house/sign", "no sign"},
		"no section":           {`"code": "house"`, `"code": ""`, "/sections/0/code", ""},
		"a long alt":           {`"longest_alt": 150`, `"longest_alt": 4`, "/words/longest_alt", ""},
	} {
		doc := string(rules.Default().Encode())
		require.Contains(t, doc, c.from, name)
		_, err := rules.Parse([]byte(strings.Replace(doc, c.from, c.to, 1)))
		var faults rules.Faults
		if !assert.ErrorAs(t, err, &faults, name) {
			continue
		}
		found := false
		for _, f := range faults {
			found = found || f.At == c.at && strings.Contains(f.Text, c.text)
		}
		assert.True(t, found, "%s: %v", name, faults)
	}
	for _, data := range []string{"", "null", "[]", "7", `{"version":1}`} {
		_, err := rules.Parse([]byte(data))
		assert.Error(t, err, data)
	}
}

func TestCompareInWords(t *testing.T) {
	a := rules.Default()
	b, err := a.Set("/slots/side/rule/fixed", "320")
	require.NoError(t, err)
	changes := rules.Compare(a, b)
	require.Len(t, changes, 1)
	assert.Equal(t, "Slot Side picture, width: 300 → 320", changes[0].String())

	b, err = a.Add("sections", "river", "River Watch")
	require.NoError(t, err)
	changes = rules.Compare(a, b)
	require.Len(t, changes, 1)
	assert.Equal(t, "Section River Watch: new, added", changes[0].String())
	back, err := b.Remove("/sections/river")
	require.NoError(t, err)
	assert.Empty(t, rules.Compare(a, back))
	assert.Equal(t, "Section River Watch: taken out, was there", rules.Compare(b, a)[0].String())

	b, err = a.Move("/slots/wide", -2)
	require.NoError(t, err)
	assert.Equal(t, "wide", b.Slots[0].ID)
	changes = rules.Compare(a, b)
	require.Len(t, changes, 1)
	assert.Contains(t, changes[0].String(), "their order")

	b, err = a.Set("/types/image/heic/do", "refuse")
	require.NoError(t, err)
	assert.Contains(t, rules.Compare(a, b)[0].String(), "Type HEIC photo from a phone, what is done: convert → refuse")
}

func TestSetReadsWhatIsTyped(t *testing.T) {
	r := rules.Default()
	for path, v := range map[string]string{
		"/slots/thumb/densities": "1, 2, 3", "/page/spacing": "0, 10, 20", "/naming/never": "photo, image", "/words/consent_asked": "yes",
		"/limits/bytes": "40 000 000", "/page/patterns/two/shares": "3, 2", "/slots/side/rule/percent": "45.5",
	} {
		_, err := r.Set(path, v)
		assert.NoError(t, err, path)
	}
	for path, v := range map[string]string{"/slots/thumb/width": "wide", "/slots/nothing/width": "3", "/page/cap/x": "3", "/slots": "3", "": "3", "/page/spacing": "a, b"} {
		_, err := r.Set(path, v)
		var faults rules.Faults
		assert.ErrorAs(t, err, &faults, path)
	}
	_, err := r.Add("slots", "Not An ID", "x")
	assert.Error(t, err)
	_, err = r.Add("walls", "x", "x")
	assert.Error(t, err)
	_, err = r.Remove("/slots")
	assert.Error(t, err)
}

func TestTypesOfTheHousesOwn(t *testing.T) {
	pdf := rules.Type{Title: "PDF document", MediaType: "application/pdf", Extension: ".pdf", Bytes: "25504446", Do: rules.Refuse, Say: "Bring its first page as a picture."}
	r, err := rules.Default().AddType(pdf)
	require.NoError(t, err)
	_, err = r.AddType(pdf)
	assert.ErrorContains(t, err, "twice")
	pdf.MediaType, pdf.Bytes = "application/x-other", ""
	_, err = r.AddType(pdf)
	assert.ErrorContains(t, err, "leading bytes", "how it is recognised belongs to it")
	assert.Empty(t, r.Check())
	own, ok := r.Recognise([]byte("%PDF-1.7 and more"))
	assert.True(t, ok)
	assert.Equal(t, "application/pdf", own.MediaType)
	_, ok = r.Recognise([]byte("%PNG"))
	assert.False(t, ok)
	r, err = r.Set("/types/application/pdf/do", "convert")
	require.NoError(t, err)
	assert.NotEmpty(t, r.Check(), "what cannot be read cannot be converted")
}

// Whatever is set either leads to rules that round trip, or is told by Check.
func TestSetProperties(t *testing.T) {
	paths := []string{"/page/cap", "/page/gutter/tablet", "/slots/side/rule/fixed", "/slots/thumb/height", "/slots/half/column", "/limits/side", "/naming/longest"}
	rapid.Check(t, func(t *rapid.T) {
		r, err := rules.Default().Set(rapid.SampledFrom(paths).Draw(t, "path"), rapid.StringMatching(`-?[0-9]{1,5}`).Draw(t, "value"))
		if err != nil {
			t.Fatal(err)
		}
		back, err := rules.Parse(r.Encode())
		if (err == nil) != (len(r.Check()) == 0) {
			// The schema may be stricter in bounds; it is never laxer.
			if err == nil {
				t.Fatalf("read, though %v", r.Check())
			}
			return
		}
		if err == nil && len(rules.Compare(r, back)) > 0 {
			t.Fatalf("%v", rules.Compare(r, back))
		}
	})
}

func TestTheSchemaIsJSON(t *testing.T) {
	var doc map[string]any
	require.NoError(t, json.Unmarshal(rules.Schema(), &doc))
	assert.Equal(t, "https://json-schema.org/draft/2020-12/schema", doc["$schema"])
}

func FuzzParse(f *testing.F) {
	f.Add(rules.Default().Encode())
	f.Add([]byte(`{"version":1,"slots":[{"id":"a"}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		if r, err := rules.Parse(data); err == nil && len(r.Check()) > 0 {
			t.Fatalf("read, though %v", r.Check())
		}
	})
}

// What the house does with a file is one answer: its list first, by the media type and then by
// leading bytes, then what is kept anyway; and never what can act.
func TestWhatArrives(t *testing.T) {
	r := rules.Default()
	ask := func(mediaType, head string) string {
		kind, known := r.Arriving(mediaType, []byte(head))
		if !known {
			return "nothing"
		}
		return string(kind.Do) + " " + kind.Extension
	}
	assert.Equal(t, "keep .jpg", ask("image/jpeg", ""))
	assert.Equal(t, "convert .heic", ask("image/heic", ""))
	assert.Equal(t, "refuse .svg", ask("image/svg+xml", ""))
	assert.Equal(t, "keep .pdf", ask("application/pdf", "%PDF-1.7"))
	assert.Equal(t, "nothing", ask("audio/mpeg", "ID3"))
	assert.Equal(t, "nothing", ask("text/html", "<!doctype html>"))

	r.Types = append(r.Types,
		rules.Type{Title: "PDF", MediaType: "application/pdf", Extension: ".pdf", Bytes: "25504446", Do: rules.Refuse, Say: "Bring a picture."},
		rules.Type{Title: "Recording", MediaType: "audio/x-ours", Extension: ".rec", Bytes: "494433", Do: rules.Keep},
		rules.Type{Title: "Notes", MediaType: "application/x-notes", Extension: ".notes", Bytes: "3c21", Do: rules.Keep})
	assert.Equal(t, "refuse .pdf", ask("application/pdf", ""))
	assert.Equal(t, "keep .rec", ask("audio/mpeg", "ID3\x03"), "by its leading bytes")
	assert.Equal(t, "refuse .notes", ask("text/html", "<!doctype html>"), "whatever its beginning is called")
	assert.NotContains(t, r.Documents(), ".pdf", "the list names it")
	assert.Contains(t, r.Downloads(), ".rec")
	assert.NotContains(t, r.Downloads(), ".pdf")
	assert.Equal(t, []bool{true, true, false}, []bool{rules.OfPicture(".JPEG"), rules.OfPicture(".png"), rules.OfPicture(".pdf")})

	// A text that the house's list would hand out as a page, also with a parameter beside the type.
	for _, page := range []string{"text/html", "text/html;charset=utf-8", "text/html ; x"} {
		r.Types = []rules.Type{{Title: "Greeting", MediaType: page, Extension: ".greet", Bytes: "48656c6c6f", Do: rules.Keep}}
		assert.Equal(t, "refuse .greet", ask("text/plain", "Hello <script>alert(1)</script>"), page)
		assert.NotEmpty(t, r.Check(), page)
	}
	acts := rules.Type{Title: "Page", MediaType: "text/html", Extension: ".html", Bytes: "3c21", Do: rules.Keep}
	_, err := rules.Default().AddType(acts)
	assert.ErrorContains(t, err, "can act in a browser")
}

// A drawing can carry scripts, whatever a list of types says of it: it is converted or refused.
func TestDrawingsAreNeverKept(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	set := func(to string) rules.Rules {
		out, err := r.Set("/types/image/svg+xml/do", to)
		require.NoError(t, err)
		return out
	}
	arriving := func(r rules.Rules, media string) rules.Do {
		kind, _ := r.Arriving(media, []byte("<svg"))
		return kind.Do
	}
	kept := set("keep")
	assert.NotEmpty(t, kept.Check())
	assert.Equal(t, rules.Refuse, arriving(kept, "image/svg+xml"), "also where the list was not checked")
	converted := set("convert")
	assert.Empty(t, converted.Check(), "with what it is converted to")
	assert.Equal(t, rules.Convert, arriving(converted, "image/svg+xml"))
	back, err := converted.Set("/types/image/svg+xml/do", "refuse")
	require.NoError(t, err)
	assert.Empty(t, back.Check())
	assert.Equal(t, rules.Refuse, arriving(back, "image/svg+xml"))
	for _, media := range []string{"text/html", "text/html; charset=utf-8", "application/xhtml+xml", "text/xml"} {
		assert.NotEqual(t, rules.Convert, arriving(converted, media), media)
	}
}
