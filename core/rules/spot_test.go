package rules_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
)

// spotted is a house with one spot.
func spotted() rules.Rules {
	r := rules.Default()
	r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 728, Height: 90, PhoneWidth: 320, PhoneHeight: 50, Where: rules.Below, On: []string{rules.OnEvery, "house"}, Turn: rules.ByTurns, Empty: rules.ShowNothing}}
	r.TimeZone = "Europe/London"
	return r
}

// The sizes that are offered are the fixed ones of the trade (IAB, fixed size ad specifications).
func TestUsualSizes(t *testing.T) {
	t.Parallel()
	var sizes [][2]int
	for _, s := range rules.SpotSizes {
		sizes = append(sizes, [2]int{s.Width, s.Height})
	}
	assert.ElementsMatch(t, [][2]int{{300, 250}, {728, 90}, {160, 600}, {300, 600}, {320, 50}, {970, 250}}, sizes)
}

func TestWhatASpotMayBe(t *testing.T) {
	t.Parallel()
	require.Empty(t, spotted().Check())
	for at, change := range map[string]func(*rules.Rules){
		"/spots/foot/width":                func(r *rules.Rules) { r.Spots[0].Width, r.Spots[0].PhoneWidth, r.Spots[0].PhoneHeight = 19, 0, 0 },
		"/spots/foot/height":               func(r *rules.Rules) { r.Spots[0].Height = 2001 },
		"/spots/foot/phone_width":          func(r *rules.Rules) { r.Spots[0].PhoneWidth = 729 },
		"/spots/foot/phone_height":         func(r *rules.Rules) { r.Spots[0].PhoneHeight = 0 },
		"/spots/foot/where":                func(r *rules.Rules) { r.Spots[0].Where = "aside" },
		"/spots/foot/turn":                 func(r *rules.Rules) { r.Spots[0].Turn = "" },
		"/spots/foot/empty":                func(r *rules.Rules) { r.Spots[0].Empty = "hole" },
		"/spots/foot/on":                   func(r *rules.Rules) { r.Spots[0].On = []string{"nowhere"} },
		"/spots/foot/title":                func(r *rules.Rules) { r.Spots[0].Title = " " },
		"/spots/foot":                      func(r *rules.Rules) { r.Spots = append(r.Spots, r.Spots[0]) },
		"/spots/f-phone":                   func(r *rules.Rules) { r.Spots[0].ID = "f-phone" },
		"/time_zone":                       func(r *rules.Rules) { r.TimeZone = "London" },
		"/sections/" + rules.SpotsFolder:   func(r *rules.Rules) { r.Sections[0].Code = rules.SpotsFolder; r.Spots[0].On = nil },
		"/sections/house":                  func(r *rules.Rules) { r.Sections[0].Folder = rules.SpotsFolder },
		"/categories/" + rules.SpotsFolder: func(r *rules.Rules) { r.Categories = []rules.Category{{Code: rules.SpotsFolder, Title: "Spots"}} },
	} {
		r := spotted()
		change(&r)
		faults := r.Check()
		require.Len(t, faults, 1, "%s: %v", at, faults)
		assert.Equal(t, at, faults[0].At)
	}
	for _, edge := range []func(*rules.Spot){
		func(s *rules.Spot) { s.Width, s.PhoneWidth = 2000, 2000 },
		func(s *rules.Spot) { s.Width, s.PhoneWidth, s.PhoneHeight = 20, 20, 20 },
		func(s *rules.Spot) { s.Height = 20 },
		func(s *rules.Spot) { s.PhoneWidth, s.PhoneHeight = 0, 0 },
	} {
		r := spotted()
		edge(&r.Spots[0])
		assert.Empty(t, r.Check())
	}
}

// The document travels: as JSON by its schema, path by path, and into words.
func TestSpotsTravel(t *testing.T) {
	t.Parallel()
	r := spotted()
	back, err := rules.Parse(r.Encode())
	require.NoError(t, err)
	assert.Equal(t, r.Spots, back.Spots)
	assert.Equal(t, "Europe/London", back.TimeZone)
	_, err = rules.Parse([]byte(strings.Replace(string(r.Encode()), `"below"`, `"sideways"`, 1)))
	assert.Error(t, err)

	set, err := r.Set("/spots/foot/on", "front, house")
	require.NoError(t, err)
	assert.Equal(t, []string{rules.OnFront, "house"}, set.Spots[0].On)
	assert.Equal(t, "Spot Partners, pages: every, house → front, house", rules.Compare(r, set)[0].String())
	more, err := r.Add("spots", "head", "Notices")
	require.NoError(t, err)
	require.Empty(t, more.Check())
	assert.Equal(t, []any{300, 250, rules.Below}, []any{more.Spots[1].Width, more.Spots[1].Height, more.Spots[1].Where})
	_, err = more.Add("spots", "head", "Again")
	assert.Error(t, err)
	less, err := more.Remove("/spots/foot")
	require.NoError(t, err)
	assert.Len(t, less.Spots, 1)
}

// A picture is cut for a spot as for any exact box.
func TestSlotsOfSpots(t *testing.T) {
	t.Parallel()
	r := spotted()
	wide, ok := r.Slot("spot-foot")
	require.True(t, ok)
	assert.Equal(t, []any{728, 90, rules.Box, []float64{1, 2, 3}}, []any{wide.Width, wide.Height, wide.Kind(), wide.Densities})
	phone, ok := r.Slot("spot-foot-phone")
	require.True(t, ok)
	assert.Equal(t, []int{320, 50}, []int{phone.Width, phone.Height})
	_, ok = r.Slot("spot-gone")
	assert.False(t, ok)
	assert.Len(t, r.SlotsWith("spot-foot"), len(r.Slots)+1)
	assert.Len(t, r.SlotsWith("column"), len(r.Slots))
	r.Spots[0].PhoneWidth, r.Spots[0].PhoneHeight = 0, 0
	assert.Len(t, r.Spots[0].Slots(), 1)
	assert.Equal(t, 728, r.Spots[0].Phone().W, "phones show the same, smaller")
}

func TestWhereASpotStands(t *testing.T) {
	t.Parallel()
	on := func(section string, front bool, on ...string) bool {
		return rules.Spot{Where: rules.Below, On: on}.StandsOn(section, front)
	}
	assert.True(t, on("house", false, "house"))
	assert.True(t, on("house", true, "house"), "and on its front page")
	assert.False(t, on("touring", false, "house"))
	assert.True(t, on("", true, rules.OnFront))
	assert.False(t, on("house", true, rules.OnFront))
	assert.False(t, on("", false, rules.OnFront), "the front page of a category is not that of the house")
	assert.True(t, on("", false, rules.OnEvery))
	assert.False(t, on("", true, ""), "nothing is nothing")
	assert.False(t, rules.Spot{Where: rules.AsBlock, On: []string{rules.OnEvery}}.StandsOn("house", false))
}
