package pictures_test

import (
	"bytes"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/veil"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/sentences"
	"mivlet/store"
)

// A form that was loaded before somebody else saved wipes nothing out: fields that its
// writer not taken stay as they are now, and where both wrote, both texts are kept.
func TestWordsOfTwoAreJoinedFieldByField(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	ines, odo := b.TwoPeople()
	shown, err := ines.Bench.View(id)
	require.NoError(t, err)
	form := pictures.WordsOf(shown.Picture) // as both of them have it open

	theirs := form
	theirs.Alt, theirs.Credit = "Odo's boat", "Odo Tamsin"
	require.NoError(t, odo.Pictures.SetWords(id, shown.Step, theirs))
	mine := form
	mine.Caption = "On the lake"
	require.NoError(t, ines.Pictures.SetWords(id, shown.Step, mine))
	now, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, pictures.Words{Alt: "Odo's boat", Credit: "Odo Tamsin", Caption: "On the lake"}, pictures.WordsOf(now.Picture))

	mine.Alt, mine.Hidden = "Ines's boat", "Pell Ashgrove"
	var clash *pictures.WordsClash
	require.ErrorAs(t, ines.Pictures.SetWords(id, shown.Step, mine), &clash)
	assert.Equal(t, []pictures.FieldClash{{Field: "alt", Mine: "Ines's boat", Theirs: "Odo's boat"}}, clash.Fields)
	now, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, "Odo's boat", now.Work.Alt, "theirs stays until somebody chooses")
	assert.Equal(t, "Pell Ashgrove", now.Work.Hidden, "what does not clash is kept")

	_, err = b.Shelves.SwapFile(id, "b.jpg", bytes.NewReader(desktest.Photo(1600, 1000, 5)))
	require.NoError(t, err)
	desktest.Refusal(t, ines.Pictures.SetWords(id, shown.Step, mine), access.Clash, "Another file")
	desktest.Refusal(t, ines.Pictures.SetWords(id, 999, mine), access.Clash, "Another file")
}

// Consent belongs to people: a refusal is answered by the veil that is said to cover
// that person, outlasts undo and others' forms, and is lifted only with a reason.
func TestConsentOfEachPerson(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	b.Place(id)
	require.NoError(t, b.Bench.AddVeils(id, []veil.Veil{desktest.BoxVeil(200, 200, 400, 300), desktest.BoxVeil(800, 500, 90, 90)}))
	stops := func() (all []string) {
		for _, f := range b.PageView().Stops() {
			all = append(all, sentences.Of(f.Finding))
		}
		return all
	}
	assert.Empty(t, stops())
	b.Refuses(id, "the one in red")
	require.Len(t, stops(), 1)
	assert.Contains(t, stops()[0], "refused", "a veil somewhere is not one that covers them")
	entry := func(n int) consent.Entry {
		c, err := b.Bench.View(id)
		require.NoError(t, err)
		return c.Consents[n]
	}
	covered := entry(0)
	covered.Veils = b.VeilsOf(id)[:1]
	require.NoError(t, b.Pictures.SetConsent(id, pictures.ConsentMark(entry(0)), covered, ""))
	assert.Empty(t, stops())
	require.NoError(t, b.Bench.DropVeil(id, pictures.Newest, b.VeilsOf(id)[0]))
	assert.Len(t, stops(), 1, "the veil that covered them is gone")

	require.NoError(t, b.Bench.GoTo(id, 0))
	assert.Equal(t, consent.Refused, entry(0).State, "going back does not change what people said")
	lifted := entry(0)
	lifted.State = consent.Allowed
	desktest.Refusal(t, b.Pictures.SetConsent(id, pictures.ConsentMark(entry(0)), lifted, ""), access.Bad, "Only a reason")
	desktest.Refusal(t, b.Pictures.DropConsent(id, lifted.ID, pictures.ConsentMark(entry(0)), "well"), access.Bad, "Only a reason")
	desktest.Refusal(t, b.Pictures.SetConsent(id, "another mark", lifted, "their mother agreed by letter"), access.Clash, "changed this entry")
	require.NoError(t, b.Pictures.SetConsent(id, pictures.ConsentMark(entry(0)), lifted, "their mother agreed by letter"))
	trail, err := b.People.Trail(store.TrailFilter{Most: 1})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "their mother agreed by letter")

	// A consent ends on the day that is noted, and the sign-off says so that day.
	require.NoError(t, b.Pictures.SetConsent(id, "", consent.Entry{Whom: "the one in blue", State: consent.Allowed, Until: "2026-11-20"}, ""))
	lines := func() int {
		all, err := b.Pages.PageLines()
		require.NoError(t, err)
		return all[0].Stops
	}
	without := lines()
	b.SetTime(time.Date(2026, 11, 19, 23, 0, 0, 0, time.UTC))
	assert.Equal(t, without, lines())
	b.SetTime(time.Date(2026, 11, 20, 6, 0, 0, 0, time.UTC))
	assert.Equal(t, without+1, lines(), "nobody wrote anything, the day alone has come")
	desktest.Refusal(t, b.Pictures.SetConsent(id, "", consent.Entry{Whom: "x", State: "perhaps"}, ""), access.Bad, "is no answer")
	desktest.Refusal(t, b.Pictures.SetConsent(id, "", consent.Entry{Whom: "x", State: consent.Allowed, Until: "soon"}, ""), access.Bad, "a day")
}

// What has only arrived, and what lies in the bin, is seen by its own section alone: its
// card, its bytes, its name as a twin.
func TestArrivalsAndTheBinAreTheSectionsOwn(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	require.NoError(t, b.Kept.SavePerson(&store.Person{Name: "Pell", Login: "pell", CreatedAt: b.Time(), Roles: []store.Role{{Section: "touring", Role: "publisher"}}}))
	who, _, err := b.People.Returning(1, 0)
	require.NoError(t, err)
	pell := b.As(who)
	arrived := b.Arrive("IMG_0001.JPG", desktest.Photo(1600, 1000, 1)).ID
	binned := b.Ready("juniors-boat", 2)
	require.NoError(t, b.Shelves.ThrowAway(binned))
	bench := b.Ready("juniors-other", 3)
	for _, id := range []uint{arrived, binned} {
		for what, try := range map[string]func(*desk.Desk) error{
			"card":     func(d *desk.Desk) error { _, err := d.Shelves.PictureCard(id); return err },
			"thumb":    func(d *desk.Desk) error { _, _, err := d.Derive.Thumb(id); return err },
			"look":     func(d *desk.Desk) error { _, _, err := d.Derive.Look(id); return err },
			"in tray":  func(d *desk.Desk) error { _, err := d.Pages.InTray(id); return err },
			"preview":  func(d *desk.Desk) error { _, err := d.Derive.Preview(id); return err },
			"original": func(d *desk.Desk) error { _, _, err := d.Shelves.OpenOriginal(id); return err },
		} {
			desktest.Refusal(t, try(pell), access.Forbidden, "You do not work for")
			if what != "in tray" {
				assert.NoError(t, try(b.Desk), what)
			}
		}
	}
	_, _, err = pell.Derive.Thumb(bench)
	assert.NoError(t, err, "what is on the bench may be used by all")
	same, err := pell.Pictures.Arrive("again.jpg", bytes.NewReader(desktest.Photo(1600, 1000, 1)), "touring")
	require.NoError(t, err)
	assert.Nil(t, same.Twin, "that it waits in another section is not told")
	near, err := pell.Pictures.Arrive("smaller.jpg", bytes.NewReader(desktest.Photo(800, 500, 1)), "touring")
	require.NoError(t, err)
	for _, n := range near.Near {
		assert.NotEqual(t, arrived, n.ID)
	}
	binnedByPell, err := pell.Pictures.Binned()
	require.NoError(t, err)
	assert.Empty(t, binnedByPell)
}
