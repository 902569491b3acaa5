package house_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// What is given for all houses holds in each, wherever its rules are read; a keeper who wants otherwise is told at the
// place, and can change all else.
func TestRulesGivenForAllHouses(t *testing.T) {
	t.Parallel()
	given, err := rules.ParseGiven([]byte(`{"fixed": {"limits": {"side": 9000, "bin_days": 30}}}`))
	require.NoError(t, err)
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Given = given })
	assert.Equal(t, []string{"Limits"}, b.House.SameInAll())
	assert.Equal(t, 9000, b.Rules().Limits.Side)
	own, _, err := b.Kept.Rules()
	require.NoError(t, err)
	assert.NotEqual(t, 9000, own.Limits.Side, "what the house has of its own stays kept")
	for name, read := range map[string]func(func(store.Records) error) error{"in a transaction": b.Store.Tx, "in a view": b.Store.View} {
		require.NoError(t, read(func(s store.Records) error {
			r, _, err := s.Rules()
			assert.Equal(t, 9000, r.Limits.Side, name)
			return err
		}))
	}

	set := func(path, value string) {
		require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Set(path, value) }))
	}
	set("/limits/side", "20000")
	draft, err := b.House.RulesDraft()
	require.NoError(t, err)
	assert.Equal(t, rules.Faults{{At: "/limits/side", Text: "It is the same in all houses: 9000."}}, draft.Faults)
	_, err = b.House.ApplyRules("larger photos")
	desktest.Refusal(t, err, access.Bad, "the same in all houses")
	assert.Equal(t, 9000, b.Rules().Limits.Side)

	set("/limits/side", "9000")
	set("/limits/bytes", "5000000")
	_, err = b.House.ApplyRules("smaller files")
	require.NoError(t, err)
	assert.EqualValues(t, 5_000_000, b.Rules().Limits.Bytes)
	assert.Equal(t, 9000, b.Rules().Limits.Side)

	everything := rules.Default()
	require.NoError(t, b.House.ImportRules(everything.Encode()))
	_, err = b.House.ApplyRules("as it was delivered")
	desktest.Refusal(t, err, access.Bad, "the same in all houses")
}
