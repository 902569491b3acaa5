package rules_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

func TestTextSizes(t *testing.T) {
	r, err := rules.Default().Set("/text_sizes/lead/phone", "24")
	require.NoError(t, err)
	assert.Equal(t, layout.Lengths{Phone: 24, Tablet: 21, Desktop: 22}, r.TextSizes.Of(rules.Lead))
	assert.Empty(t, r.Check())
	for _, wrong := range []string{"11", "41", "-1"} {
		r, err := rules.Default().Set("/text_sizes/small/desktop", wrong)
		require.NoError(t, err)
		require.Len(t, r.Check(), 1, wrong)
		assert.Contains(t, r.Check()[0].Text, "12 to 40 px high, not "+wrong)
	}
	// A document of earlier days says nothing of them.
	old := rules.Default()
	old.TextSizes = rules.TextSizes{}
	read, err := rules.Parse(old.Encode())
	require.NoError(t, err)
	assert.Equal(t, rules.UsualTextSizes, read.TextSizes)
}
