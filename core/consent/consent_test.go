package consent_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/consent"
)

func TestWhoKeepsAPictureFromBeingShown(t *testing.T) {
	refused := consent.Entry{ID: "a", Whom: "one", State: consent.Refused, Veils: []string{"v1"}}
	agreed := consent.Entry{ID: "b", Whom: "two", State: consent.Allowed, Until: "2026-09-01"}
	nobody := consent.Entry{ID: "c", State: consent.Nobody}
	all := []consent.Entry{refused, agreed, nobody}
	for name, c := range map[string]struct {
		veils []string
		today string
		want  []consent.Entry
	}{
		"before it ends, covered":                  {[]string{"v1"}, "2026-08-31", nil},
		"on the day it ends":                       {[]string{"v1"}, "2026-09-01", []consent.Entry{agreed}},
		"afterwards":                               {[]string{"v1"}, "2027-01-01", []consent.Entry{agreed}},
		"no veil at all":                           {nil, "2026-08-31", []consent.Entry{refused}},
		"a veil that covers somebody else":         {[]string{"v2"}, "2026-08-31", []consent.Entry{refused}},
		"veils without names cover nobody":         {[]string{""}, "2026-08-31", []consent.Entry{refused}},
		"uncovered, and after the other has ended": {nil, "2026-09-02", []consent.Entry{refused, agreed}},
	} {
		assert.Equal(t, c.want, consent.Binding(all, c.veils, c.today), name)
	}
	unnamed := consent.Entry{State: consent.Refused, Veils: []string{""}}
	assert.Len(t, consent.Binding([]consent.Entry{unnamed}, []string{""}, "2026-01-01"), 1)
	assert.Equal(t, consent.Refused, consent.Strictest(all))
	assert.Equal(t, consent.Allowed, consent.Strictest(all[1:]))
	assert.Equal(t, consent.Unknown, consent.Strictest(nil))
	assert.Equal(t, "2026-09-01", consent.FirstEnd(all))
	assert.Empty(t, consent.FirstEnd([]consent.Entry{{State: consent.Refused, Until: "2026-01-01"}}), "a refusal does not end")
}

func TestEntriesThatSayNothingClear(t *testing.T) {
	assert.NoError(t, consent.Entry{State: consent.Nobody}.Check())
	assert.NoError(t, consent.Entry{State: consent.Unasked, Whom: "J-14"}.Check())
	for _, bad := range []consent.Entry{{}, {State: "perhaps", Whom: "one"}, {State: consent.Refused}, {State: consent.Allowed, Whom: "  "}, {State: consent.Refused, Whom: strings.Repeat("x", 201)}} {
		assert.Error(t, bad.Check(), "%+v", bad)
	}
}

// The first of several ends counts, in whatever order they stand.
func TestTheFirstEnd(t *testing.T) {
	early := consent.Entry{ID: "a", Whom: "one", State: consent.Allowed, Until: "2026-09-01"}
	late := consent.Entry{ID: "b", Whom: "two", State: consent.Allowed, Until: "2027-01-01"}
	open := consent.Entry{ID: "c", Whom: "three", State: consent.Allowed}
	assert.Equal(t, "2026-09-01", consent.FirstEnd([]consent.Entry{open, early, late}))
	assert.Equal(t, "2026-09-01", consent.FirstEnd([]consent.Entry{late, open, early}))
	longest := strings.Repeat("ä", consent.Most)
	assert.NoError(t, consent.Entry{State: consent.Refused, Whom: longest, Note: longest}.Check(), "characters, not bytes")
	assert.Error(t, consent.Entry{State: consent.Refused, Whom: "one", Note: longest + "x"}.Check())
}
