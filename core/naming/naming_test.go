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
		cs = append(cs, p.Code)
	}
	return cs
}

func TestCheck(t *testing.T) {
	for name, want := range map[string]string{
		"juniors-first-launch":   "",
		"juniors-2026-09-12":     "",
		"":                       "empty",
		"  ":                     "empty",
		"juniors first-launch":   "space",    // common practice: no spaces
		"juniors-launch!":        "symbol",   // common practice: no symbols
		"juniors-lac-léman":      "symbol",   // POSIX.1-2017 3.282: outside the portable set
		"Juniors-launch":         "case",     // two names in one on some systems
		"-juniors-launch":        "hyphens",  // POSIX.1-2017 3.282: not starting with a hyphen
		"juniors--launch":        "hyphens",  // single hyphens
		"launch-at-dawn":         "section",  // common practice: section first
		"juniors":                "subject",  // and then what it shows
		"con":                    "reserved", // refused by the most used desktop system, memory
		"DSC_0417":               "camera",   // DCF, JEITA CP-3461: 4 characters + 4 digits
		"juniors-DSC_0417":       "camera",   // the section in front does not mend it
		"IMG_2093":               "camera",   // common practice
		"P1040877":               "camera",   // DCF
		"Screenshot 2026-11-02":  "camera",   // common practice
		"juniors-image-2":        "idle",     // tells nothing
		"juniors-final-copy-new": "idle",     // tells nothing
		"juniors-" + strings.Repeat("long-", 20) + "name": "long",
	} {
		got := codes(naming.Check(name, "juniors"))
		if want == "" {
			assert.Empty(t, got, name)
		} else {
			assert.Contains(t, got, want, "%q", name)
		}
	}
}

func TestProposeMendsWhatWasTyped(t *testing.T) {
	day := time.Date(2026, 9, 12, 8, 41, 0, 0, time.UTC)
	for _, c := range []struct {
		clues naming.Clues
		want  string
	}{
		{naming.Clues{Typed: "Juniors First Launch!.JPG", Section: "juniors"}, "juniors-first-launch"},
		{naming.Clues{Typed: "Lac Léman & Zürich", Section: "touring"}, "touring-lac-leman-zurich"},
		{naming.Clues{Typed: "cartoon final (2).png", Section: "socials"}, "socials-cartoon-2"},
		{naming.Clues{Typed: "DSC_0417.JPG", Alt: "Three juniors paddle off the jetty on a clear morning", Section: "juniors"}, "juniors-three-juniors-paddle-off-jetty-clear"},
		{naming.Clues{Typed: "DSC_0417.JPG", Taken: day, Section: "juniors"}, "juniors-2026-09-12"},
		{naming.Clues{Typed: "DSC_0417.JPG", Section: "juniors", Fallback: "9f3a21"}, "juniors-unsorted-9f3a21"},
		{naming.Clues{Typed: "Ива́н на озере", Section: "touring"}, "touring-ivan-na-ozere"},
	} {
		assert.Equal(t, c.want, naming.Propose(c.clues), "%+v", c.clues)
	}
}

func TestAProposalPassesItsOwnCheckAndStaysAsItIs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := naming.Clues{Typed: rapid.String().Draw(t, "typed"), Alt: rapid.String().Draw(t, "alt"), Section: "boatshed", Fallback: "ab12"}
		name := naming.Propose(c)
		if ps := naming.Check(name, "boatshed"); ps != nil {
			t.Fatalf("%q from %+v: %v", name, c, ps)
		}
		if again := naming.Propose(naming.Clues{Typed: name, Section: "boatshed", Fallback: "ab12"}); again != name {
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
