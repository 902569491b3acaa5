package privacy_test

import (
	"context"
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
	"mivlet/desk/running"
	"mivlet/store"
)

// backedUp tells of backups in a place.
type backedUp struct{ all []running.Backup }

func (backedUp) Disk() (int64, int64, error)  { return 1, 2, nil }
func (backedUp) Program() (string, time.Time) { return "1", time.Time{} }
func (m backedUp) Backups(context.Context) (*running.Backups, error) {
	return &running.Backups{To: "/mnt/other", All: m.all}, nil
}

func note(b *desktest.Fixture, id uint, e consent.Entry) {
	b.T.Helper()
	require.NoError(b.T, b.Pictures.SetConsent(id, "", e, ""))
}

// What the house keeps of somebody is found wherever it stands, by whole words and not by parts of them;
// and nothing of anybody else is given along.
func TestWhatIsKeptOfAPerson(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	seen, named, other := b.Ready("juniors-boats", 1), b.Ready("juniors-pell-ashgrove-paddles", 2), b.Ready("juniors-pellet-stove", 3)
	note(b, seen, consent.Entry{Whom: "Pell Ashgrove", State: consent.Allowed, Until: "2027-06-30", Note: "asked the parents"})
	note(b, other, consent.Entry{Whom: "Odo Tamsin", State: consent.Refused})
	require.NoError(t, desktest.Describe(b.Desk, other, "A stove for pellets"))
	b.Place(seen)
	require.NoError(t, b.Pages.SetText(b.PageID, "a", b.MarkOf("a"), "Thanks to PELL ASHGROVE, who carried the boats"))
	b.GoLive()
	_, err := b.People.SaveAccount(people.Account{Name: "Ines", Login: "ines", Password: "four words in a row", Keeper: true})
	require.NoError(t, err)
	id, err := b.People.SaveAccount(people.Account{Name: "Pell Ashgrove", Login: "pell", Password: "four words in a row", Roles: map[string]access.Role{"juniors": access.Contributor}})
	require.NoError(t, err)
	_, err = b.People.SaveAccount(people.Account{Name: "Runa Falk", Login: "runa", Password: "four words in a row"})
	require.NoError(t, err)
	p, err := b.Kept.Person(id)
	require.NoError(t, err)
	_, err = b.As(access.PersonOf(p)).People.Begin(access.PersonOf(p), "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0")
	require.NoError(t, err)
	require.NoError(t, b.As(access.PersonOf(p)).Pictures.SetName(named, "juniors-pell-ashgrove-in-a-boat"))

	a, err := b.Privacy.About("pell ashgrove")
	require.NoError(t, err)
	require.Len(t, a.Accounts, 1)
	assert.Equal(t, []any{"pell", true, false, "contributor"}, []any{a.Accounts[0].Login, a.Accounts[0].Password, a.Accounts[0].SecondStep, a.Accounts[0].Roles["juniors"]})
	require.Len(t, a.Accounts[0].Sessions, 1)
	assert.Equal(t, "Firefox on Linux", a.Accounts[0].Sessions[0].Browser)
	require.Len(t, a.SeenOn, 1)
	assert.Equal(t, []any{seen, "allowed", "2027-06-30", "asked the parents"}, []any{a.SeenOn[0].ID, a.SeenOn[0].Answer, a.SeenOn[0].Until, a.SeenOn[0].Note})
	assert.Equal(t, []string{"/juniors/autumn"}, a.SeenOn[0].Live)
	var pictures []uint
	var pages []string
	for _, n := range a.NamedIn {
		if n.Picture != nil {
			pictures = append(pictures, n.Picture.ID)
			assert.Equal(t, []string{"name"}, n.In)
		} else {
			pages = append(pages, n.Address)
		}
	}
	assert.Equal(t, []uint{named}, pictures)
	assert.Equal(t, []string{"/juniors/autumn"}, pages)
	require.NotEmpty(t, a.Did)
	for _, e := range a.Did {
		assert.Equal(t, "Pell Ashgrove", e.Person)
	}
	require.NotEmpty(t, a.ToldOf, "that the account was made")

	text, err := json.Marshal(a)
	require.NoError(t, err)
	for _, theirs := range []string{"Odo", "Runa", "pellet", "argon2", "four words"} {
		assert.NotContains(t, string(text), theirs)
	}
	trail, err := b.People.Trail(store.TrailFilter{Most: 1})
	require.NoError(t, err)
	assert.Equal(t, "Looked up what is kept of a person", trail[0].What, "the trail does not say of whom")

	nobody, err := b.Privacy.About("Somebody Else")
	require.NoError(t, err)
	text, err = json.Marshal(nobody)
	require.NoError(t, err)
	assert.NotContains(t, string(text), "null", "lists are empty, not missing")
	assert.Empty(t, nobody.Accounts)
	for _, short := range []string{"", " ", "P", "!!"} {
		_, err = b.Privacy.About(short)
		desktest.Refusal(t, err, access.Bad, "too short")
	}
}

// Names are found as they are written anywhere: with other capitals, in other scripts, before a sign.
func TestNamesInAllScripts(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	for name, text := range map[string]string{"Zoë Ångström": "By ZOË ÅNGSTRÖM.", "Оля": "(Оля)", "نور": "نور، الفائزة", "O’Hara": "Ms O’Hara’s boat", "Jean-Luc": "jean-luc"} {
		id := b.Ready("juniors-boat-"+time.Now().Format("150405.000000000")[7:], 1)
		require.NoError(t, desktest.Describe(b.Desk, id, text))
		a, err := b.Privacy.About(name)
		require.NoError(t, err)
		assert.Len(t, a.NamedIn, 1, name)
	}
	a, err := b.Privacy.About("Luc")
	require.NoError(t, err)
	assert.Len(t, a.NamedIn, 1, "a part of a double name is one")
	a, err = b.Privacy.About("Zo")
	require.NoError(t, err)
	assert.Empty(t, a.NamedIn)
}

func TestWhatIsKeptOfAll(t *testing.T) {
	t.Parallel()
	at := time.Date(2026, 11, 1, 3, 0, 0, 0, time.UTC)
	b := desktest.FreshWith(t, func(o *desk.Options) {
		o.Machine = backedUp{[]running.Backup{{At: at.AddDate(0, 0, 7)}, {At: at}}}
	})
	b.UnderRules(func(r *rules.Rules) {
		r.ServeUpTo(1)
		r.Sections = append([]rules.Section{}, r.Sections...)
		r.Sections[0].UnusedDays = 365
	})
	one, two := b.Ready("juniors-boats", 1), b.Ready("juniors-oars", 2)
	note(b, one, consent.Entry{Whom: "Pell", State: consent.Refused})
	require.NoError(t, b.Shelves.ThrowAway(two))
	k, err := b.Privacy.Kept(context.Background(), 14)
	require.NoError(t, err)
	assert.Equal(t, []int{2, 1, 1, 1}, []int{k.Pictures, k.InBin, k.Seen, k.Refused})
	assert.Equal(t, b.PictureOf(one).Facts.Bytes+b.PictureOf(two).Facts.Bytes, k.Originals)
	assert.Equal(t, "/mnt/other", k.BackupTo)
	assert.True(t, k.OldestBackup.Equal(at))
	require.Len(t, k.Unused, 1)
	trail, err := b.People.Trail(store.TrailFilter{})
	require.NoError(t, err)
	assert.Equal(t, len(trail), k.Trail)
}
