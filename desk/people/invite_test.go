package people_test

import (
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
)

// An invitation is followed once, until it ends, by whoever has its code, and by nobody else.
func TestAnInvitationIsFollowedOnce(t *testing.T) {
	t.Parallel()
	b := kept(t)
	id, err := b.People.SaveAccount(people.Account{Name: "Odo", Login: "odo", Roles: map[string]access.Role{"juniors": access.Contributor}})
	require.NoError(t, err)
	_, err = b.People.SignIn("odo", "", "here")
	assert.Error(t, err, "nobody signs in without a password")
	code, until, err := b.People.Invite(id)
	require.NoError(t, err)
	assert.Len(t, code, 26, "base32 of 130 bits")
	assert.WithinDuration(t, b.Time().Add(7*24*time.Hour), until, time.Minute)
	kept, err := b.Store.Person(id)
	require.NoError(t, err)
	assert.NotContains(t, kept.Invitation, code, "what is kept does not let anybody in")

	_, err = b.People.Invited(code[:25]+"?", "there")
	assert.Error(t, err)
	who, err := b.People.Invited(code, "there")
	require.NoError(t, err)
	assert.Equal(t, "Odo", who.Name)
	_, err = b.People.Join(code, "short", "there")
	assert.ErrorContains(t, err, "at least")
	who, err = b.People.Join(code, "four words in a row", "there")
	require.NoError(t, err)
	assert.Equal(t, access.Contributor, who.Roles["juniors"])
	_, err = b.People.SignIn("odo", "four words in a row", "there")
	assert.NoError(t, err)
	_, err = b.People.Join(code, "another four words", "there")
	assert.ErrorContains(t, err, "used, or has ended")
}

// Of several who follow an invitation at once, one gets in.
func TestAnInvitationIsFollowedOnceAtOnce(t *testing.T) {
	t.Parallel()
	b := kept(t)
	id, err := b.People.SaveAccount(people.Account{Name: "Odo", Login: "odo"})
	require.NoError(t, err)
	code, _, err := b.People.Invite(id)
	require.NoError(t, err)
	var in atomic.Int32
	var all sync.WaitGroup
	for n := range 4 {
		all.Go(func() {
			if _, err := b.People.Join(code, fmt.Sprintf("four words in row %d", n), fmt.Sprintf("address %d", n)); err == nil {
				in.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 1, in.Load())
}

// Another invitation, the end of its time, and an account that is closed each end one.
func TestInvitationsEnd(t *testing.T) {
	t.Parallel()
	b := kept(t)
	id, err := b.People.SaveAccount(people.Account{Name: "Odo", Login: "odo", Password: "the one before"})
	require.NoError(t, err)
	first, _, err := b.People.Invite(id)
	require.NoError(t, err)
	_, err = b.People.SignIn("odo", "the one before", "here")
	assert.NoError(t, err, "an invitation that nobody follows changes nothing")
	second, _, err := b.People.Invite(id)
	require.NoError(t, err)
	_, err = b.People.Invited(first, "here")
	assert.Error(t, err)
	_, err = b.People.Invited(second, "here")
	assert.NoError(t, err)
	b.SetTime(b.Time().Add(7 * 24 * time.Hour))
	_, err = b.People.Invited(second, "here")
	assert.Error(t, err, "after its time")

	third, _, err := b.People.Invite(id)
	require.NoError(t, err)
	_, err = b.People.SaveAccount(people.Account{ID: id, Name: "Odo", Login: "odo", Away: true})
	require.NoError(t, err)
	_, err = b.People.Join(third, "four words in a row", "here")
	assert.Error(t, err, "of a closed account")
	_, _, err = b.People.Invite(id)
	assert.ErrorContains(t, err, "may no longer sign in")
}

// Who guesses at codes has to wait.
func TestGuessingAtInvitationsIsSlowedDown(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	var err error
	for range 40 {
		_, err = b.People.Invited("guess", "an address")
		if r, ok := desktest.AsRefusal(err); ok && r.Kind == access.TooSoon {
			return
		}
	}
	t.Fatalf("forty guesses were answered: %v", err)
}

// kept is a house with a keeper.
func kept(t *testing.T) *desktest.Fixture {
	t.Helper()
	b := desktest.Fresh(t)
	_, err := b.People.SaveAccount(people.Account{Name: "Ines", Login: "ines", Password: "the keeper's own", Keeper: true})
	require.NoError(t, err)
	return b
}

// A house gets no more accounts than it is allotted; those that are there can be changed.
func TestMoreAccountsThanAllotted(t *testing.T) {
	t.Parallel()
	b := desktest.FreshWith(t, func(o *desk.Options) { o.Allotted = access.Allotment{People: 1} })
	id, err := b.People.SaveAccount(people.Account{Name: "Odo", Login: "odo", Keeper: true})
	require.NoError(t, err)
	_, err = b.People.SaveAccount(people.Account{Name: "Runa", Login: "runa"})
	desktest.Refusal(t, err, access.TooMuch, "as many as it may have")
	_, err = b.People.SaveAccount(people.Account{ID: id, Name: "Odo Tamsin", Login: "odo", Keeper: true})
	assert.NoError(t, err)
}
