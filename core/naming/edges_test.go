package naming_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/naming"
)

// The longest name is still a name; one character more is not, and a proposal never is.
func TestLengthsAtTheirEdges(t *testing.T) {
	c := usual
	c.Longest = 20
	k := naming.Clues{Section: "juniors"}
	assert.NotContains(t, codes(c.Check("juniors-first-launch", k)), "long", "20 characters")
	assert.Contains(t, codes(c.Check("juniors-first-launchs", k)), "long")
	assert.Equal(t, "juniors-first-launch", c.Propose(naming.Clues{Section: "juniors", Subject: "first launch"}).Name, "20 characters stay")
	assert.Equal(t, "juniors-first", c.Propose(naming.Clues{Section: "juniors", Subject: "first launchs"}).Name)
	assert.Equal(t, "juniors-abcdefghijkl", c.Propose(naming.Clues{Section: "juniors", Subject: strings.Repeat("abcdefghijklmnop", 3)}).Name, "one endless word is cut")
	assert.Equal(t, "juniors-abcdefghijkl", c.Propose(naming.Clues{Section: "juniors", Subject: "abcdefghijkl"}).Name)
	assert.Equal(t, strings.Repeat("a", 30), naming.Identifier(strings.Repeat("a", 30)))
	assert.Equal(t, strings.Repeat("a", 30), naming.Identifier(strings.Repeat("a", 31)))
	assert.Equal(t, strings.Repeat("a", 29), naming.Identifier(strings.Repeat("a", 29)+" b"), "no hyphen at the end")
}

// What a camera called it comes before all else that is wrong with a name.
func TestTheCameraComesFirst(t *testing.T) {
	got := codes(usual.Check("DSC 0417", naming.Clues{Section: "juniors"}))
	if assert.Greater(t, len(got), 1) {
		assert.Equal(t, "camera", got[0])
		assert.NotEqual(t, "camera", got[len(got)-1])
	}
}

// Where nothing joins the parts, a hyphen stands between two figures and nowhere else.
func TestPartsThatNothingJoins(t *testing.T) {
	c := naming.Convention{Parts: []naming.Part{{Kind: naming.Section, Required: true}, {Kind: naming.Subject, Required: true}, {Kind: naming.Number, Required: true, Width: 2, Start: 1}}, Case: naming.Lower, Longest: 80}
	for subject, want := range map[string]string{"boat": "k1boat01", "boat 0": "k1boat0-01", "boat 9": "k1boat9-01", "9 boats": "k1-9boats01", "0 boats": "k1-0boats01"} {
		assert.Equal(t, want, strings.ReplaceAll(c.Propose(naming.Clues{Section: "k1", Subject: subject}).Name, "boat-", "boat"), subject)
	}
}

// Without a part for the subject it comes first: a name always says what is shown.
func TestTheSubjectIsNeverMissing(t *testing.T) {
	c := naming.Convention{Parts: []naming.Part{{Kind: naming.Section, Required: true}}, Joiner: "-", Case: naming.Lower, Longest: 80}
	assert.Equal(t, "red-boats-juniors", c.Propose(naming.Clues{Section: "juniors", Subject: "red boats"}).Name)
	c.Parts = append(c.Parts, naming.Part{Kind: naming.Subject, Required: true})
	assert.Equal(t, "juniors-red-boats", c.Propose(naming.Clues{Section: "juniors", Subject: "red boats"}).Name)
}

// A number or a date that another part will say is taken off what was typed, and only that.
func TestWhatOtherPartsSayIsTakenOff(t *testing.T) {
	part := func(kind naming.Kind, form string, width int) naming.Convention {
		return naming.Convention{Parts: []naming.Part{{Kind: naming.Subject, Required: true}, {Kind: kind, Required: true, Form: form, Width: width, Start: 1}}, Joiner: "-", Case: naming.Lower, Longest: 80}
	}
	for _, c := range []struct {
		convention naming.Convention
		typed      string
		want       string
	}{
		{part(naming.Number, "", 3), "red-boats-042", "red-boats-042"},
		{part(naming.Number, "", 3), "red-boats-42", "red-boats-42-001"},
		{part(naming.Number, "", 3), "red-boats-4a2", "red-boats-4a2-001"},
		{part(naming.Taken, "2006-01-02", 0), "red-boats-2024-05-06", "red-boats-2026-09-12"},
		{part(naming.Taken, "2006-01-02", 0), "red-2024-05", "red-2024-05-2026-09-12"},
		{part(naming.Taken, "2006-01-02", 0), "red-boats-undated", "red-boats-2026-09-12"},
		{part(naming.Taken, "2006-01-02", 0), "boats-24-05-06", "boats-24-05-06-2026-09-12"},
	} {
		assert.Equal(t, c.want, c.convention.Propose(naming.Clues{Typed: c.typed, Taken: day}).Name, c.typed)
	}
	others := naming.Clues{Section: "juniors", Others: []string{"juniors", "touring"}}
	others.Typed = "touring-red-boats"
	assert.Equal(t, "juniors-red-boats", usual.Propose(others).Name, "the section of another is taken off")
	others.Typed = "touring"
	assert.Equal(t, "juniors-touring", usual.Propose(others).Name, "unless nothing else is left")
}

// Six telling words are kept; small ones go only where there are more than that.
func TestSixWordsAreKept(t *testing.T) {
	propose := func(subject string) string {
		return usual.Propose(naming.Clues{Section: "juniors", Subject: subject}).Name
	}
	assert.Equal(t, "juniors-the-boats-of-the-old-club", propose("the boats of the old club"))
	assert.Equal(t, "juniors-boats-old-club-lie-quiet-shore", propose("the boats of the old club lie on a quiet shore today"))
	assert.Equal(t, "juniors-red-boats", propose("red boats of the"), "small words at the end tell nothing")
}
