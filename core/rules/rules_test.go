package rules_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
)

// Text columns are 450 to 810 CSS px wide, pictures beside text 300 to 400,
// never wider than 1,000 for a page; sharp screens get twice the pixels; a
// picture is never heavier than 3 MB (common practice).
func TestTheReadyMadeRulesKeepToTheTrade(t *testing.T) {
	r := rules.Default()
	assert.GreaterOrEqual(t, r.Page.Column, 450)
	assert.LessOrEqual(t, r.Page.Column, 810)
	side, ok := r.Slot("side")
	require.True(t, ok)
	assert.GreaterOrEqual(t, side.Width, 300)
	assert.LessOrEqual(t, side.Width, 400)
	assert.True(t, r.Page.Beside(1280, side.Width))
	for _, s := range r.Slots {
		assert.LessOrEqual(t, s.Width, 1000, s.ID)
		assert.Equal(t, 2.0, s.Sharpest(), s.ID)
		assert.Less(t, s.Budget, int64(3_000_000), s.ID)
		assert.Equal(t, s.Width, s.Want().Width)
	}
}

func TestRoundTripAndUnknown(t *testing.T) {
	data, err := json.Marshal(rules.Default())
	require.NoError(t, err)
	var back rules.Rules
	require.NoError(t, json.Unmarshal(data, &back))
	assert.Equal(t, rules.Default(), back)
	_, ok := back.Slot("poster")
	assert.False(t, ok)
	_, ok = back.Section("nobody")
	assert.False(t, ok)
}
