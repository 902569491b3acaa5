package naming_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"mivlet/core/naming"
)

func codes(ps []naming.Problem) []string {
	var cs []string
	for _, p := range ps {
		cs = append(cs, string(p.Code))
	}
	return cs
}

var (
	usual = naming.Usual()
	day   = time.Date(2026, 9, 12, 8, 41, 0, 0, time.UTC)
)

// Names and what the usual convention says of them for the section juniors.
func TestCheck(t *testing.T) {
	for name, want := range map[string]string{
		"juniors-first-launch":   "",
		"juniors-2026-09-12":     "",
		"juniors-first-launch-2": "",
		"juniors-aux-paddle":     "",
		"":                       "empty",
		"  ":                     "empty",
		"juniors first-launch":   "space",   // common practice: no spaces
		"juniors\tlaunch":        "space",   // common practice
		"juniors\u00a0launch":    "space",   // a space that does not break
		"juniors-launch!":        "symbol",  // common practice: no symbols
		"juniors-launch&more":    "symbol",  // RFC 3986, 2.3: not unreserved
		"juniors-50%":            "symbol",  // RFC 3986, 2.3: begins an escape
		"juniors-a/b":            "symbol",  // a folder, POSIX.1-2017 3.282
		"juniors-a:b":            "symbol",  // POSIX.1-2017 3.282
		"juniors-lac-léman":      "symbol",  // POSIX.1-2017 3.282: outside the portable set
		"juniors-le\u0301man":    "symbol",  // the same letter in two parts (Unicode normalisation form D)
		"juniors-озеро":          "symbol",  // POSIX.1-2017 3.282
		"juniors-launch.":        "symbol",  // a trailing dot, refused by the most used desktop system, memory
		"juniors_launch":         "symbol",  // another joiner than the house's
		"Juniors-launch":         "case",    // two names in one on some systems
		"juniors-First-launch":   "case",    // the same
		"-juniors-launch":        "hyphens", // POSIX.1-2017 3.282: not starting with a hyphen
		"juniors-launch-":        "hyphens",
		"juniors--launch":        "hyphens",       // single hyphens
		"launch-at-dawn":         "section",       // common practice: section first
		"touring-launch":         "other-section", // the section of another
		"juniorsfirst-launch":    "section",
		"juniors":                "subject",  // and then what it shows
		"con":                    "reserved", // refused by the most used desktop system, memory
		"NUL":                    "reserved",
		"com7":                   "reserved",
		"lpt1":                   "reserved",
		"DSC_0417":               "camera", // DCF, JEITA CP-3461: 4 characters + 4 digits
		"juniors-DSC_0417":       "camera", // the section in front does not mend it
		"juniors-dsc-0417":       "camera", // nor small letters
		"IMG_2093":               "camera", // common practice
		"P1040877":               "camera", // DCF
		"ABCD0001":               "camera", // DCF
		"Screenshot 2026-11-02":  "camera", // common practice
		"juniors-image-2":        "idle",   // tells nothing
		"juniors-final-copy-new": "idle",   // tells nothing
		"juniors-untitled":       "camera",
		"juniors-" + strings.Repeat("long-", 20) + "name": "long",
	} {
		got := codes(usual.Check(name, naming.Clues{Section: "juniors", Others: []string{"juniors", "touring"}}))
		if want == "" {
			assert.Empty(t, got, name)
		} else {
			assert.Contains(t, got, want, "%q", name)
		}
	}
}

func with(change func(*naming.Convention)) naming.Convention {
	c := naming.Usual()
	change(&c)
	return c
}

// Conventions of other houses.
func TestOtherConventions(t *testing.T) {
	capitals := with(func(c *naming.Convention) { c.Case = naming.Capitals })
	together := with(func(c *naming.Convention) { c.Case, c.Joiner = naming.Capitals, "" })
	under := with(func(c *naming.Convention) { c.Joiner = "_" })
	dated := with(func(c *naming.Convention) { c.Parts[3].Required = true })
	numbered := with(func(c *naming.Convention) {
		c.Parts[4] = naming.Part{Kind: naming.Number, Required: true, Width: 3, Start: 1}
	})
	free := with(func(c *naming.Convention) { c.Parts = []naming.Part{{Kind: naming.Subject, Required: true}} })
	typed := with(func(c *naming.Convention) { c.Case = naming.AsTyped })
	placed := with(func(c *naming.Convention) {
		c.Parts = append(c.Parts, naming.Part{Kind: naming.Place, Required: true}, naming.Part{Kind: naming.Slot}, naming.Part{Kind: naming.Variant})
	})
	for _, c := range []struct {
		house naming.Convention
		clues naming.Clues
		want  string
	}{
		{capitals, naming.Clues{Subject: "first launch", Section: "juniors"}, "Juniors-FirstLaunch"},
		{together, naming.Clues{Subject: "first launch", Section: "juniors"}, "JuniorsFirstLaunch"},
		{together, naming.Clues{Subject: "lake 2", Section: "juniors", Number: 3}, "JuniorsLake2-3"},
		{capitals, naming.Clues{Typed: "GPSPosition of boats", Section: "juniors"}, "Juniors-GpsPositionOfBoats"},
		{under, naming.Clues{Subject: "First Launch", Section: "juniors"}, "juniors_first_launch"},
		{dated, naming.Clues{Subject: "First launch", Section: "juniors", Taken: day}, "juniors-first-launch-2026-09-12"},
		{dated, naming.Clues{Subject: "First launch", Section: "juniors"}, "juniors-first-launch-undated"},
		{numbered, naming.Clues{Subject: "First launch", Section: "juniors"}, "juniors-first-launch-001"},
		{numbered, naming.Clues{Subject: "First launch", Section: "juniors", Number: 17}, "juniors-first-launch-017"},
		{free, naming.Clues{Typed: "First Launch.JPG", Section: "juniors"}, "first-launch"},
		{free, naming.Clues{Typed: "con.png"}, "con-view"},
		{typed, naming.Clues{Typed: "First LAUNCH", Section: "juniors"}, "juniors-First-LAUNCH"},
		{placed, naming.Clues{Subject: "First launch", Section: "juniors", Place: "South jetty", Slot: "side", Variant: "b"}, "juniors-first-launch-south-jetty-side-b"},
		{placed, naming.Clues{Subject: "First launch", Section: "juniors"}, "juniors-first-launch-place"},
	} {
		p := c.house.Propose(c.clues)
		assert.Equal(t, c.want, p.Name, "%+v", c.clues)
		assert.Empty(t, c.house.Check(p.Name, c.clues), p.Name)
		assert.NotEmpty(t, p.Steps, "each step is told")
	}
	assert.Contains(t, codes(capitals.Check("juniors-firstLaunch", naming.Clues{Section: "juniors"})), "capitals")
	assert.Contains(t, codes(dated.Check("juniors-first-launch", naming.Clues{Section: "juniors"})), "date")
	assert.Contains(t, codes(numbered.Check("juniors-first-launch", naming.Clues{Section: "juniors"})), "number")
	assert.Contains(t, codes(under.Check("juniors-first-launch", naming.Clues{Section: "juniors"})), "symbol")
}

func TestProposeMendsWhatWasTyped(t *testing.T) {
	for _, c := range []struct {
		clues naming.Clues
		want  string
		step  string
	}{
		{naming.Clues{Typed: "Juniors First Launch!.JPG", Section: "juniors"}, "juniors-first-launch", "Drawn from the name it has"},
		{naming.Clues{Typed: "Lac Léman & Zürich", Section: "touring"}, "touring-lac-leman-zurich", "plain ones"},
		{naming.Clues{Typed: "Le\u0301man", Section: "touring"}, "touring-leman", "plain ones"}, // Unicode normalisation form D
		{naming.Clues{Typed: "cartoon final (2).png", Section: "socials"}, "socials-cartoon-2", "fit any picture left out: final"},
		{naming.Clues{Typed: "DSC_0417.JPG", Alt: "Three juniors paddle off the jetty on a clear morning", Section: "juniors"}, "juniors-three-juniors-paddle-off-jetty-clear", "what a camera called it"},
		{naming.Clues{Typed: "DSC_0417.JPG", Taken: day, Section: "juniors"}, "juniors-2026-09-12", "the day it was taken"},
		{naming.Clues{Typed: "DSC_0417.JPG", Section: "juniors", Fallback: "9f3a21"}, "juniors-unsorted-9f3a21", "Nothing says"},
		{naming.Clues{Typed: "Ива́н на озере", Section: "touring"}, "touring-ivan-na-ozere", "plain ones"},
		{naming.Clues{Typed: "juniors-juniors-launch", Section: "juniors"}, "juniors-launch", "section first"},
		{naming.Clues{Typed: "touring launch", Section: "juniors", Others: []string{"touring", "juniors"}}, "juniors-launch", "section first"},
		{naming.Clues{Subject: "Launch", Typed: "something else", Section: "juniors"}, "juniors-launch", "what you say it shows"},
		{naming.Clues{Subject: "launch of the first boat of the", Section: "juniors"}, "juniors-launch-first-boat", ""},
		{naming.Clues{Subject: "Launch", Section: "juniors", Number: 4}, "juniors-launch-4", "Number 4"},
		{naming.Clues{Subject: strings.Repeat("endless", 20), Section: "juniors"}, "juniors-" + strings.Repeat("endless", 20)[:72], ""},
	} {
		p := usual.Propose(c.clues)
		assert.Equal(t, c.want, p.Name, "%+v", c.clues)
		assert.Contains(t, strings.Join(p.Steps, " "), c.step, "%+v", c.clues)
	}
}

// For any clues and convention: a proposal passes its own check, and proposing
// from it changes nothing.
func TestAProposalPassesItsOwnCheckAndStaysAsItIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := naming.Usual()
		c.Case = rapid.SampledFrom([]naming.Case{naming.Lower, naming.Capitals, naming.AsTyped}).Draw(t, "case")
		c.Joiner = rapid.SampledFrom([]string{"-", "_"}).Draw(t, "joiner")
		if c.Case == naming.Capitals && rapid.Bool().Draw(t, "together") {
			c.Joiner = ""
		}
		c.Parts[3].Required = rapid.Bool().Draw(t, "dated")
		c.Parts[3].Form = rapid.SampledFrom(naming.DateForms).Draw(t, "form")
		c.Parts[4] = naming.Part{Kind: naming.Number, Required: rapid.Bool().Draw(t, "numbered"), Width: rapid.IntRange(1, 4).Draw(t, "digits"), Start: 1}
		text := rapid.OneOf(rapid.String(), rapid.StringMatching(`[A-Za-z0-9 _-]{0,40}`))
		k := naming.Clues{Typed: text.Draw(t, "typed"), Alt: text.Draw(t, "alt"), Section: "boatshed", Fallback: "ab12"}
		if rapid.Bool().Draw(t, "known day") {
			k.Taken = day
		}
		name := c.Propose(k).Name
		if ps := c.Check(name, k); ps != nil {
			t.Fatalf("%q from %+v: %v", name, k, ps)
		}
		if again := c.Propose(naming.Clues{Typed: name, Section: "boatshed", Fallback: "ab12", Taken: k.Taken}).Name; again != name {
			t.Fatalf("%q became %q", name, again)
		}
	})
}

func TestFromCamera(t *testing.T) {
	for _, yes := range []string{"DSC_0417.JPG", "IMG_2101.JPG", "P1040877.JPG", "_DSC1234.JPG", "IMG_20260912_084107.jpg", "Screenshot 2026-11-02.png", "image1.png", "untitled.png"} {
		assert.True(t, naming.FromCamera(yes), yes)
	}
	for _, no := range []string{"juniors-first-launch.jpg", "paddle-stroke.gif", "Logo NEW.png", "lake-2026.jpg"} {
		assert.False(t, naming.FromCamera(no), no)
	}
}

func TestIdentifier(t *testing.T) {
	for title, want := range map[string]string{"Middle column": "middle-column", "2 boats": "boats", "Übersicht & Plan": "ubersicht-plan", "!!": "", strings.Repeat("long ", 20): "long-long-long-long-long-long"} {
		assert.Equal(t, want, naming.Identifier(title), title)
	}
}
