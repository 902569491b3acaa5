package district_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/district"
	"mivlet/store"
)

// office is a house that looks after three others.
func office(t *testing.T) (*desktest.Fixture, *desktest.Houses) {
	houses := &desktest.Houses{Usual: access.Allotment{Pictures: 100}, Known: map[string]district.Told{
		"east.district.example":  {Figures: district.Figures{House: "Eastern School", Pictures: 20, Originals: 9e6, Findings: 2, People: 3}, At: time.Now()},
		"north.district.example": {Figures: district.Figures{House: "Northern School", Pictures: 95, Originals: 4e6, People: 9}, At: time.Now()},
		"west.district.example":  {Fault: "the disk is gone"},
	}}
	return desktest.FreshWith(t, func(o *desk.Options) { o.Houses = houses }), houses
}

func hosts(v district.View) (all []string) {
	for _, t := range v.Houses {
		all = append(all, t.Host)
	}
	return all
}

// What needs somebody comes first: what cannot be opened, what the given rules do not fit, what has little room left.
func TestHousesAreListed(t *testing.T) {
	t.Parallel()
	b, houses := office(t)
	const east, north, west = "east.district.example", "north.district.example", "west.district.example"
	for by, want := range map[district.Order][]string{
		district.ByNeed: {west, north, east}, "": {west, north, east}, district.ByName: {east, north, west},
		district.BySize: {east, north, west}, district.ByFindings: {east, north, west},
	} {
		v, err := b.District.All("", by)
		require.NoError(t, err)
		assert.Equal(t, want, hosts(v), "by %q", by)
		assert.Equal(t, district.Figures{People: 12, Pictures: 115, Originals: 13e6, Findings: 2}, v.Sum)
	}
	v, err := b.District.All(" northern SCHOOL", district.ByName)
	require.NoError(t, err)
	assert.Equal(t, []string{north}, hosts(v))
	assert.Equal(t, 95, v.Houses[0].Full())

	misfit := houses.Known[east]
	misfit.Misfit = "too small"
	houses.Known[east] = misfit
	v, err = b.District.All("", district.ByNeed)
	require.NoError(t, err)
	assert.Equal(t, []string{west, east, north}, hosts(v))
}

// A house is added, and what it may have is told; each is noted in the trail of the office.
func TestHousesAreAddedAndAllotted(t *testing.T) {
	t.Parallel()
	b, houses := office(t)
	host, err := b.District.Add(" South.District.Example ")
	require.NoError(t, err)
	assert.Equal(t, "south.district.example", host)
	_, err = b.District.Add(host)
	desktest.Refusal(t, err, access.Clash, "already")
	_, err = b.District.Add("  ")
	desktest.Refusal(t, err, access.Bad, "cannot be called")
	_, err = b.District.One("nobody.example")
	desktest.Refusal(t, err, access.Missing, "no house")
	desktest.Refusal(t, b.District.Allot("nobody.example", nil), access.Missing, "no house")
	desktest.Refusal(t, b.District.Allot(host, &access.Allotment{People: -1}), access.Bad, "less than nothing")

	require.NoError(t, b.District.Allot(host, &access.Allotment{People: 7}))
	told, err := b.District.One(host)
	require.NoError(t, err)
	assert.Equal(t, []any{access.Allotment{People: 7}, true}, []any{told.Allotted, told.Own})
	require.NoError(t, b.District.Allot(host, nil))
	told, err = b.District.One(host)
	require.NoError(t, err)
	assert.Equal(t, []any{houses.Usual, false}, []any{told.Allotted, told.Own})
	traces, err := b.Kept.Trail(store.TrailFilter{Most: 9})
	require.NoError(t, err)
	var said []string
	for _, one := range traces {
		said = append(said, one.What)
	}
	assert.Subset(t, said, []string{"Added the house south.district.example", "Changed the limits of the house south.district.example"})
}

// The rules of the office are the pattern of those that are given; what was given otherwise stays where nobody says
// something else, and what changes here is given only when somebody says so.
func TestRulesAreGiven(t *testing.T) {
	t.Parallel()
	b, houses := office(t)
	var err error
	houses.Shared, err = rules.ParseGiven([]byte(`{"fixed": {"words": {"language": "de"}}}`))
	require.NoError(t, err)
	how := func() map[string]rules.Giving {
		t.Helper()
		g, err := b.District.Given()
		require.NoError(t, err)
		all := map[string]rules.Giving{"first": g.First}
		for _, p := range g.Parts {
			all[p.Name] = p.How
		}
		return all
	}
	assert.Equal(t, []rules.Giving{rules.Otherwise, rules.Free, rules.Free}, []rules.Giving{how()["words"], how()["limits"], how()["first"]})
	require.NoError(t, b.District.Give(map[string]rules.Giving{"limits": rules.Alike, "words": rules.Otherwise, "naming": rules.Free}, rules.Alike))
	assert.Equal(t, []rules.Giving{rules.Otherwise, rules.Alike, rules.Alike}, []rules.Giving{how()["words"], how()["limits"], how()["first"]})
	b.UnderRules(func(r *rules.Rules) { r.Limits.BinDays = 11 })
	assert.Equal(t, rules.Otherwise, how()["limits"])
	held, err := houses.Shared.Over(rules.Default())
	require.NoError(t, err)
	assert.NotEqual(t, 11, held.Limits.BinDays)
	require.NoError(t, b.District.Give(map[string]rules.Giving{"words": rules.Free}, rules.Free))
	assert.Equal(t, []rules.Giving{rules.Free, rules.Otherwise, rules.Free}, []rules.Giving{how()["words"], how()["limits"], how()["first"]})
	desktest.Refusal(t, b.District.Give(map[string]rules.Giving{"slots": rules.Alike}, ""), access.Bad, "a house's own")
}

// A house that is no office tells nothing of others, also to its keepers.
func TestOtherHousesTellNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	assert.False(t, b.District.Office())
	_, err := b.District.All("", district.ByName)
	desktest.Refusal(t, err, access.Missing, "looks after no others")
	_, err = b.District.Add("north.district.example")
	desktest.Refusal(t, err, access.Missing, "looks after no others")
	desktest.Refusal(t, b.District.Give(nil, ""), access.Missing, "looks after no others")
}
