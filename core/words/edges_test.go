package words_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/words"
)

// Lengths are counted in characters; the most is still allowed.
func TestLengthsAtTheirEdges(t *testing.T) {
	longest := strings.Repeat("é", words.LongAlt)
	assert.Empty(t, codes(words.Check(words.Said{Alt: longest})))
	assert.Equal(t, []string{"long"}, codes(words.Check(words.Said{Alt: longest + "é"})))
	assert.Empty(t, codes(words.Check(words.Said{Alt: "A boat", Longest: 6})))
	assert.Equal(t, []string{"long"}, codes(words.Check(words.Said{Alt: "A boats", Longest: 6})))
	assert.Empty(t, codes(words.Check(words.Said{Alt: "A boat", Caption: "At nine", LongestCap: 7})))
	assert.Equal(t, []string{"caption-long"}, codes(words.Check(words.Said{Alt: "A boat", Caption: "At nine.", LongestCap: 7})))
	assert.Empty(t, codes(words.Check(words.Said{Alt: "A boat", Caption: strings.Repeat("x", 5000)})), "0 is no limit")
	assert.Equal(t, "Abc", words.VisibleLine("Abc", 3))
	assert.Equal(t, "Ab", words.VisibleLine("Ab c", 3), "what is cut leaves no space")
}

// A name that a veil hides is not told; one letter is no name.
func TestHiddenNamesAtTheirEdges(t *testing.T) {
	assert.Equal(t, []string{"hidden-name"}, codes(words.Check(words.Said{Alt: "Jo pushes off", Hidden: []string{" Jo "}})))
	assert.Empty(t, codes(words.Check(words.Said{Alt: "J pushes off", Hidden: []string{"J", ""}})))
	remarks := words.Check(words.Said{Alt: "Pell pushes off", Watch: []string{"pell"}})
	if assert.Len(t, remarks, 1) {
		assert.Equal(t, []any{"Pell"}, remarks[0].Values, "the word itself is told")
	}
	plate := words.Check(words.Said{Alt: "A van, BM24 PDL, and BM24 PDM"})
	if assert.Len(t, plate, 1, "each kind is told once") {
		assert.Equal(t, words.Plate, plate[0].Code)
	}
}

// A link's words share a telling word, of four letters or more, with where it leads.
func TestWordsOfALink(t *testing.T) {
	for alt, want := range map[string][]string{"Boats of the autumn": nil, "The day is red": {"link"}, "All dates": {"link"}, "All trips": nil} {
		assert.Equal(t, want, codes(words.Check(words.Said{Alt: alt, Links: true, LinkName: "Trips in the autumn, day and night"})), alt)
	}
}

// Eight capitals and no small letter are a shout; digits and signs do not count.
func TestShoutsAtTheirEdges(t *testing.T) {
	for alt, want := range map[string][]string{"RED BOAT 24": nil, "RED BOATS": {"shouting"}, "RED BOATs ON LAKE": nil, "A K1 OF THE CLUB": {"shouting"}, "TEN K 1 ON": nil} {
		assert.Equal(t, want, codes(words.Check(words.Said{Alt: alt})), alt)
	}
}
