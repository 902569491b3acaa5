package rules_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
)

// Every set of ready-made rules can have text of any usual width; what is made before stays.
func TestWithTextWidth(t *testing.T) {
	for _, ready := range rules.ReadyMade() {
		for _, px := range []int{320, 480, 600, 640, 700, 801, 1000, 1400} {
			was := ready.Rules.TextWidth()
			r, err := ready.Rules.WithTextWidth(px)
			require.NoError(t, err, "%s, %d", ready.ID, px)
			assert.Equal(t, px, r.TextWidth(), ready.ID)
			assert.Equal(t, was, ready.Rules.TextWidth(), "what it was made from stays")
			column, ok := r.Resolved().Slot("column")
			if assert.True(t, ok, ready.ID) {
				assert.Equal(t, px, column.Width, ready.ID)
			}
		}
	}
	_, err := rules.Default().WithTextWidth(-700)
	assert.Error(t, err)
	none := rules.Default()
	none.Page.Patterns = none.Page.Patterns[1:2]
	_, err = none.WithTextWidth(640)
	assert.ErrorContains(t, err, "widest section")
}
