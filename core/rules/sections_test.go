package rules

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Sections are renamed, taken out and added in one act; their codes, which addresses are made of,
// stay.
func TestSectionsAreCalled(t *testing.T) {
	t.Parallel()
	r, err := Default().WithSectionTitles(nil, []string{"Juniors"})
	require.NoError(t, err)
	first, second := r.Sections[0], r.Sections[1]
	out, err := r.WithSectionTitles(map[string]string{first.Code: " Rowing ", second.Code: " "}, []string{"", "Über den See", "Choir"})
	require.NoError(t, err)
	assert.Equal(t, "Rowing", out.Sections[0].Title)
	assert.Equal(t, first.Code, out.Sections[0].Code)
	_, there := out.Section(second.Code)
	assert.False(t, there)
	last := out.Sections[len(out.Sections)-2:]
	assert.Equal(t, []string{"Über den See", "Choir"}, []string{last[0].Title, last[1].Title})
	assert.NotEqual(t, last[0].Sign, last[1].Sign)
	for _, s := range last {
		assert.Regexp(t, `^[a-z][a-z0-9-]*$`, s.Code)
	}
	assert.Empty(t, out.Check())
	assert.Equal(t, first.Title, r.Sections[0].Title, "the rules that it began from are as they were")

	_, err = out.WithSectionTitles(nil, []string{"Choir"})
	assert.ErrorContains(t, err, "already")
	none := map[string]string{}
	for _, s := range r.Sections {
		none[s.Code] = ""
	}
	_, err = r.WithSectionTitles(none, nil)
	assert.ErrorContains(t, err, "a house needs a section")
	_, err = r.WithSectionTitles(nil, []string{"!!"})
	assert.Error(t, err, "no code can be made of it")
}
