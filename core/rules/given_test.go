package rules

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The examples of RFC 7396, Appendix A.
func TestMergingAsTheStandardHasIt(t *testing.T) {
	t.Parallel()
	for _, c := range [][3]string{
		{`{"a":"b"}`, `{"a":"c"}`, `{"a":"c"}`},
		{`{"a":"b"}`, `{"b":"c"}`, `{"a":"b","b":"c"}`},
		{`{"a":"b"}`, `{"a":null}`, `{}`},
		{`{"a":"b","b":"c"}`, `{"a":null}`, `{"b":"c"}`},
		{`{"a":["b"]}`, `{"a":"c"}`, `{"a":"c"}`},
		{`{"a":"c"}`, `{"a":["b"]}`, `{"a":["b"]}`},
		{`{"a":{"b":"c"}}`, `{"a":{"b":"d","c":null}}`, `{"a":{"b":"d"}}`},
		{`{"a":[{"b":"c"}]}`, `{"a":[1]}`, `{"a":[1]}`},
		{`["a","b"]`, `["c","d"]`, `["c","d"]`},
		{`{"a":"b"}`, `["c"]`, `["c"]`},
		{`{"a":"foo"}`, `null`, `null`},
		{`{"a":"foo"}`, `"bar"`, `"bar"`},
		{`{"e":null}`, `{"a":1}`, `{"a":1,"e":null}`},
		{`[1,2]`, `{"a":"b","c":null}`, `{"a":"b"}`},
		{`{}`, `{"a":{"bb":{"ccc":null}}}`, `{"a":{"bb":{}}}`},
	} {
		var target, patch any
		require.NoError(t, json.Unmarshal([]byte(c[0]), &target))
		require.NoError(t, json.Unmarshal([]byte(c[1]), &patch))
		got, err := json.Marshal(merge(target, patch))
		require.NoError(t, err)
		assert.JSONEq(t, c[2], string(got), "%s by %s", c[0], c[1])
	}
}

// What is given holds in every house, whatever the house says; a house that keeps to it is refused nothing.
func TestWhatIsGivenHolds(t *testing.T) {
	t.Parallel()
	g, err := ParseGiven([]byte(`{"fixed": {"limits": {"side": 9000}, "time_zone": "Europe/London", "words": {}}, "first": {"house": "A school", "limits": {"bin_days": 14}}}`))
	require.NoError(t, err)
	assert.Equal(t, []string{"Limits", "Time zone"}, g.Titles())
	begun, err := g.Begin()
	require.NoError(t, err)
	assert.Equal(t, "A school", begun.House)
	assert.Equal(t, 14, begun.Limits.BinDays)
	assert.Equal(t, 9000, begun.Limits.Side)
	assert.Empty(t, g.Refused(begun))

	own, err := Default().Set("/limits/bin_days", "90")
	require.NoError(t, err)
	held, err := g.Over(own)
	require.NoError(t, err)
	assert.Equal(t, 90, held.Limits.BinDays, "what is not given is the house's own")
	assert.Equal(t, 9000, held.Limits.Side)
	assert.Equal(t, own.Limits.Bytes, held.Limits.Bytes)
	assert.Len(t, held.Slots, len(own.Slots))
	assert.Equal(t, Faults{{"/limits/side", "It is the same in all houses: 9000."}, {"/time_zone", "It is the same in all houses: Europe/London."}}, g.Refused(own))

	var none Given
	held, err = none.Over(own)
	require.NoError(t, err)
	assert.Empty(t, Compare(own, held))
	assert.Empty(t, none.Refused(own))
	assert.Empty(t, none.Titles())
}

// What cannot be given is refused with its place; where it contradicts a house, that house keeps its rules.
func TestWhatCannotBeGiven(t *testing.T) {
	t.Parallel()
	for data, at := range map[string]string{
		`{"fixed": {"slots": []}}`:                   "/fixed/slots",
		`{"fixed": {"sections": []}}`:                "/fixed/sections",
		`{"fixed": {"limits": {"side": "large"}}}`:   "/limits/side",
		`{"first": {"limits": {"side": -1}}}`:        "/limits/side",
		`{"fixed": {"limits": {"sides": 9000}}}`:     "/limits",
		`{"always": {}}`:                             "",
		`{"fixed": {`:                                "line 1",
		`{"fixed": {"time_zone": "Middle of Mars"}}`: "/time_zone",
	} {
		_, err := ParseGiven([]byte(data))
		var faults Faults
		if assert.ErrorAs(t, err, &faults, data) {
			assert.Equal(t, at, faults[0].At, data)
		}
	}
	against := Given{fixed: map[string]any{"limits": map[string]any{"side": -1.0}}}
	held, err := against.Over(Default())
	assert.ErrorContains(t, err, "does not go with the rules")
	assert.Empty(t, Compare(Default(), held))
	assert.Empty(t, against.Refused(Default()))
}

// What is given can be made of the rules of one house, part by part, and reads back as it was; what a house has of its own
// cannot be given.
func TestRulesOfOneHouseAreGivenToAll(t *testing.T) {
	t.Parallel()
	office, err := Default().Set("/limits/side", "9000")
	require.NoError(t, err)
	office.House = "The office"
	var g Given
	for _, p := range Parts() {
		assert.Equal(t, Free, g.Fixed(p.Name, office), p.Title)
	}
	g, err = g.Fix("limits", office)
	require.NoError(t, err)
	g = g.BeginAs(office)
	assert.Equal(t, []any{Alike, Otherwise, Free, Alike}, []any{g.Fixed("limits", office), g.Fixed("limits", Default()), g.Fixed("words", office), g.First(office)})
	text, err := g.Encode()
	require.NoError(t, err)
	read, err := ParseGiven(text)
	require.NoError(t, err)
	assert.Equal(t, g, read)
	begun, err := read.Begin()
	require.NoError(t, err)
	assert.Equal(t, Default().House, begun.House, "a house has a name of its own")
	assert.Equal(t, 9000, begun.Limits.Side)
	held, err := read.Over(Default())
	require.NoError(t, err)
	assert.Equal(t, 9000, held.Limits.Side)
	less := read.Free("limits").BeginUsually()
	assert.Equal(t, []any{Free, Free, Alike}, []any{less.Fixed("limits", office), less.First(office), read.Fixed("limits", office)})
	text, err = less.Encode()
	require.NoError(t, err)
	assert.JSONEq(t, "{}", string(text))
	_, err = g.Fix("slots", office)
	assert.ErrorContains(t, err, "slots")
}
