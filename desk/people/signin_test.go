package people_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
	"mivlet/store"
)

func TestSigningIn(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	first, err := b.People.NeedsKeeper()
	require.NoError(t, err)
	assert.True(t, first)
	_, err = b.People.FirstKeeper("Ines", "ines", "short", firstCode(b), "here")
	desktest.Refusal(t, err, access.Bad, "at least 10")
	who, err := b.People.FirstKeeper("Ines Varrow", "ines", "four words in a row", firstCode(b), "here")
	require.NoError(t, err)
	assert.True(t, who.Keeper)
	_, err = b.People.FirstKeeper("Odo", "odo", "four other words in", firstCode(b), "here")
	desktest.Refusal(t, err, access.Clash, "keeper already")

	again, err := b.People.SignIn("INES", "four words in a row", "here")
	require.NoError(t, err, "the case of a sign-in name does not count")
	assert.Equal(t, who.ID, again.ID)
	kept, err := b.Kept.Person(who.ID)
	require.NoError(t, err)
	assert.Contains(t, kept.Password, "$argon2id$", "kept as a hash (RFC 9106)")
	assert.NotContains(t, kept.Password, "four")

	for range 3 {
		_, err = b.People.SignIn("ines", "wrong", "there")
		desktest.Refusal(t, err, access.Bad, "password is wrong")
	}
	for range 3 { // the first waits are short
		b.SetTime(b.Time().Add(5 * time.Second))
		_, err = b.People.SignIn("ines", "wrong", "there")
		desktest.Refusal(t, err, access.Bad, "password is wrong")
	}
	_, err = b.People.SignIn("ines", "four words in a row", "there")
	desktest.Refusal(t, err, access.TooSoon, "Wait")
	_, err = b.People.SignIn("INES", "four words in a row", "elsewhere")
	desktest.Refusal(t, err, access.TooSoon, "Wait")
	_, err = b.People.SignIn("somebody", "else entirely", "there")
	desktest.Refusal(t, err, access.Bad, "password is wrong")
	b.SetTime(b.Time().Add(time.Minute))
	_, err = b.People.SignIn("ines", "four words in a row", "there")
	require.NoError(t, err, "after the wait it goes on")
}

func TestAccountsAndSessionsThatEnd(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	keeper, err := b.People.FirstKeeper("Ines", "ines", "four words in a row", firstCode(b), "here")
	require.NoError(t, err)
	d := b.As(keeper)
	id, err := d.People.SaveAccount(people.Account{Name: "Odo", Login: "odo", Password: "a paddle on the lake", Roles: map[string]access.Role{"juniors": access.Contributor}})
	require.NoError(t, err)
	_, err = d.People.SaveAccount(people.Account{Name: "Odo II", Login: "ODO", Password: "a paddle on the lake"})
	desktest.Refusal(t, err, access.Clash, "taken")
	odo, err := b.People.SignIn("odo", "a paddle on the lake", "x")
	require.NoError(t, err)
	assert.True(t, odo.CanWork("juniors"))
	assert.False(t, odo.CanWork("touring"))
	assert.False(t, odo.CanPublish("juniors"))

	require.NoError(t, b.As(odo).People.SignOutEverywhere())
	_, ok, err := b.People.Returning(odo.ID, odo.Epoch())
	require.NoError(t, err)
	assert.False(t, ok, "all sessions have ended")
	_, err = d.People.SaveAccount(people.Account{ID: id, Name: "Odo", Login: "odo", Away: true})
	require.NoError(t, err)
	_, err = b.People.SignIn("odo", "a paddle on the lake", "y")
	desktest.Refusal(t, err, access.Bad, "password is wrong")

	_, err = d.People.SaveAccount(people.Account{ID: keeper.ID, Name: "Ines", Login: "ines"})
	desktest.Refusal(t, err, access.Clash, "left without a keeper")
	trail, err := d.People.Trail(store.TrailFilter{})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "A sign-in failed: odo")
	assert.Contains(t, trail[1].What, "may no longer sign in")
	assert.Equal(t, "Ines", trail[1].Person)
}

func firstCode(b *desktest.Fixture) string {
	b.T.Helper()
	code, err := b.People.FirstCode()
	require.NoError(b.T, err)
	return code
}

// The code for the first keeper stays the same when the program is started again, and in all programs of the house: a link
// with it was sent to somebody. When there is a keeper, it is none any more.
func TestTheCodeForTheFirstKeeperStays(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	code := firstCode(b)
	other := b.Beside(t, func(*desk.Options) {})
	again, err := other.People.FirstCode()
	require.NoError(t, err)
	assert.Equal(t, code, again)
	b.SetTime(b.Time().Add(29 * 24 * time.Hour))
	assert.Equal(t, code, firstCode(b), "for a month")
	_, err = other.People.FirstKeeper("Ines", "ines", "four words in a row", code, "here")
	require.NoError(t, err)
	assert.NotEqual(t, code, firstCode(b))
}
