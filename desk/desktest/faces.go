package desktest

import (
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/bench"
	"mivlet/sentences"
)

// UnderRules has the house change its rules.
func (b *Fixture) UnderRules(change func(*rules.Rules)) {
	b.T.Helper()
	require.NoError(b.T, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { change(&r); return r, nil }))
	job, err := b.House.ApplyRules("as the house has decided")
	require.NoError(b.T, err)
	if job != nil {
		job.Wait()
	}
}

// Juniors brings the picture of two juniors to the bench.
func (b *Fixture) Juniors() uint {
	b.T.Helper()
	a := b.Arrive("IMG_2101.JPG", DemoFile(b.T, "IMG_2101.JPG"))
	require.Len(b.T, a.Faces, 2, "an arrival says how many faces it has")
	require.NoError(b.T, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
	return a.ID
}

// FacesOf are the faces found in a picture, and their names.
func (b *Fixture) FacesOf(id uint) (all []bench.FoundFace, keys []string) {
	b.T.Helper()
	found, err := b.Bench.Faces(id)
	require.NoError(b.T, err)
	for _, f := range found.All {
		keys = append(keys, f.ID())
	}
	return found.All, keys
}

// FoundIn tells the findings of a picture.
func (b *Fixture) FoundIn(id uint) string {
	b.T.Helper()
	v, err := b.Bench.View(id)
	require.NoError(b.T, err)
	all := ""
	for _, f := range v.Findings {
		all += string(f.Level) + ": " + sentences.Of(f) + "\n"
	}
	return all
}
