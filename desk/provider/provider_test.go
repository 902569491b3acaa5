package provider_test

import (
	"context"
	"errors"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
	"mivlet/desk/provider"
	"mivlet/store"
)

// school is a provider that says what it is told to.
type school struct {
	options func(*desk.Options) // of a house that takes its accounts
	says    provider.Claims
	err     error
	trip    provider.Trip   // the one that somebody was sent with
	client  provider.Client // as it was asked
	back    provider.Trip   // the one that somebody came back with
}

func (s *school) Address(t provider.Trip) string {
	s.trip = t
	return "https://accounts.school.example/in?state=" + t.State
}

func (s *school) Claims(_ context.Context, t provider.Trip, _ string) (provider.Claims, error) {
	s.back = t
	return s.says, s.err
}

const issuer = "https://accounts.school.example"

// house is one that takes accounts of a school.
func house(t *testing.T, change func(*store.Provider)) (*desktest.Fixture, *school) {
	t.Helper()
	at := &school{says: provider.Claims{Issuer: issuer, Subject: "s-1", Email: "runa.falk@school.example", Verified: true, Name: "Runa Falk"}}
	key := desktest.WithKey(t)
	at.options = func(o *desk.Options) {
		o.Provider = func(_ context.Context, c provider.Client) (provider.Provider, error) {
			at.client = c
			return at, nil
		}
		key(o)
	}
	b := desktest.FreshWith(t, at.options)
	_, err := b.People.SaveAccount(people.Account{Name: "Keeper", Login: "keeper", Keeper: true})
	require.NoError(t, err)
	p := store.Provider{Title: "Brindlemere School", Issuer: issuer, ClientID: "mivlet", NewComer: true}
	if change != nil {
		change(&p)
	}
	require.NoError(t, b.Provider.Save(t.Context(), p, "hush", "https://mivlet.example/back"))
	return b, at
}

// comesIn signs in with whatever the school says.
func comesIn(b *desktest.Fixture) (access.Person, error) {
	b.T.Helper()
	address, mark, err := b.Provider.Begin(b.T.Context(), "https://mivlet.example/back", "/pages")
	require.NoError(b.T, err)
	u, err := url.Parse(address)
	require.NoError(b.T, err)
	who, next, err := b.Provider.Finish(b.T.Context(), u.Query().Get("state"), "code", mark, "127.0.0.1")
	assert.Equal(b.T, "/pages", next)
	return who, err
}

func TestSomebodyComesInForTheFirstTime(t *testing.T) {
	t.Parallel()
	b, at := house(t, nil)
	who, err := comesIn(b)
	require.NoError(t, err)
	assert.Equal(t, "Runa Falk", who.Name)
	assert.False(t, who.Keeper)
	assert.Empty(t, who.Roles, "they can only look")
	assert.Equal(t, "hush", at.client.Secret)
	assert.Equal(t, at.trip, at.back, "what belongs to one sign-in stays together")

	at.says.Email, at.says.Name = "runa.berg@school.example", "Runa Berg" // the subject is who they are
	again, err := comesIn(b)
	require.NoError(t, err)
	assert.Equal(t, who.ID, again.ID)

	// Who has an account from elsewhere has no password here, and is none of the demo's people.
	_, err = b.As(again).People.SetOwnPassword("", "four words in a row")
	desktest.Refusal(t, err, access.Clash, "no password here")
	_, err = b.People.SignIn(who.Login, "", "127.0.0.1")
	assert.Error(t, err)
}

// Whose account it is, is found by the subject, else by an address that the provider has verified.
func TestWhoseAccountItIs(t *testing.T) {
	t.Parallel()
	b, at := house(t, func(p *store.Provider) { p.NewComer = false })
	id, err := b.People.SaveAccount(people.Account{Name: "Runa", Login: "Runa.Falk@school.example", Roles: map[string]access.Role{"juniors": access.Contributor}})
	require.NoError(t, err)

	at.says.Verified = false
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "another account here")
	at.says.Verified = true
	who, err := comesIn(b)
	require.NoError(t, err)
	assert.Equal(t, id, who.ID)
	assert.Equal(t, access.Contributor, who.Roles["juniors"], "what was set by hand stays, where no groups have roles")

	at.says.Subject = "s-2" // somebody else has the address by now
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "another account here")

	at.says.Email = "noa@school.example"
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "no account in this house yet")

	at.says = provider.Claims{Issuer: "https://other.example", Subject: "s-1"}
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "no account in this house yet")

	_, err = b.People.SaveAccount(people.Account{ID: id, Name: "Runa", Login: "Runa.Falk@school.example", Away: true})
	require.NoError(t, err)
	at.says = provider.Claims{Issuer: issuer, Subject: "s-1"}
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "may no longer sign in")
}

// Whoever runs the provider does not keep the house by that: no keeper comes in so, by address or by subject.
func TestKeepersComeInByPassword(t *testing.T) {
	t.Parallel()
	b, at := house(t, nil)
	id, err := b.People.SaveAccount(people.Account{Name: "Ines", Login: "ines@school.example", Keeper: true})
	require.NoError(t, err)
	at.says.Email = "ines@school.example"
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "Keepers of the house")

	_, err = b.People.SaveAccount(people.Account{ID: id, Name: "Ines", Login: "ines@school.example"})
	require.NoError(t, err)
	_, err = b.People.SaveAccount(people.Account{Name: "Another", Login: "another", Keeper: true})
	require.NoError(t, err)
	_, err = comesIn(b)
	require.NoError(t, err)
	_, err = b.People.SaveAccount(people.Account{ID: id, Name: "Ines", Login: "ines@school.example", Keeper: true})
	require.NoError(t, err)
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Forbidden, "Keepers of the house")
}

// Groups say what people may do, from each sign-in to the next; whoever has left a group has nothing of it.
func TestGroupsHaveRoles(t *testing.T) {
	t.Parallel()
	b, at := house(t, func(p *store.Provider) {
		p.Claim = "groups"
		p.Groups = []store.GroupRole{{Group: "teachers", Section: "juniors", Role: "contributor"}, {Group: "editors", Section: "juniors", Role: "publisher"}, {Group: " ", Section: "juniors", Role: "publisher"}, {Group: "teachers", Section: "touring", Role: "publisher"}}
	})
	assert.Equal(t, "groups", at.client.Claim)
	for _, want := range []struct {
		groups []string
		roles  map[string]access.Role
	}{
		{[]string{"editors", "teachers"}, map[string]access.Role{"juniors": access.Publisher, "touring": access.Publisher}},
		{[]string{"teachers"}, map[string]access.Role{"juniors": access.Contributor, "touring": access.Publisher}},
		{[]string{"Teachers", "teacher", ""}, map[string]access.Role{}},
		{nil, map[string]access.Role{}},
	} {
		at.says.Groups = want.groups
		who, err := comesIn(b)
		require.NoError(t, err)
		assert.Equal(t, want.roles, who.Roles, "%q", want.groups)
	}
	kept, _, err := b.Provider.Settings()
	require.NoError(t, err)
	assert.Len(t, kept.Groups, 3, "empty lines are left out")
	assert.Empty(t, kept.Secret)
}

// Nobody comes in with what somebody else began, twice, or too late.
func TestOneWayThereAndBack(t *testing.T) {
	t.Parallel()
	b, at := house(t, nil)
	begin := func() (state, mark string) {
		_, mark, err := b.Provider.Begin(t.Context(), "https://mivlet.example/back", "/")
		require.NoError(t, err)
		return at.trip.State, mark
	}
	finish := func(state, mark string) error {
		_, _, err := b.Provider.Finish(t.Context(), state, "code", mark, "127.0.0.1")
		return err
	}
	mine, myMark := begin()
	theirs, theirMark := begin()
	assert.NotEqual(t, mine, theirs)
	for name, way := range map[string][2]string{"somebody else's browser": {mine, theirMark}, "no browser": {mine, ""}, "nothing": {"", ""}, "made up": {"x", myMark}} {
		assert.Error(t, finish(way[0], way[1]), name)
	}
	require.NoError(t, finish(mine, myMark))
	desktest.Refusal(t, finish(mine, myMark), access.Bad, "begun elsewhere")
	b.SetTime(b.Time().Add(11 * time.Minute))
	desktest.Refusal(t, finish(theirs, theirMark), access.Bad, "too long ago")

	at.err = errors.New("signed by somebody else")
	_, err := comesIn(b)
	desktest.Refusal(t, err, access.Bad, "did not confirm")
	at.err, at.says.Subject = nil, ""
	_, err = comesIn(b)
	desktest.Refusal(t, err, access.Bad, "did not confirm")

	// Any number of people may be on the way: those who began last arrive.
	at.says.Subject = "s-1"
	for range 2100 {
		begin()
	}
	_, err = comesIn(b)
	assert.NoError(t, err)
}

// The secret goes to no other server than the one that it was entered for.
func TestSettings(t *testing.T) {
	t.Parallel()
	b, at := house(t, nil)
	p, kept, err := b.Provider.Settings()
	require.NoError(t, err)
	require.True(t, kept)
	require.NoError(t, b.Provider.Save(t.Context(), p, "", "back"), "empty leaves it as it is")
	assert.Equal(t, "hush", at.client.Secret)
	for name, change := range map[string]func(*store.Provider){
		"client secret is missing": func(p *store.Provider) { p.Issuer = "https://elsewhere.example" },
		"secret is missing":        func(p *store.Provider) { p.ClientID = "another" },
		"no address of an issuer":  func(p *store.Provider) { p.Issuer = "http://accounts.school.example" },
		"is no address":            func(p *store.Provider) { p.Issuer = "accounts" },
		"needs a name":             func(p *store.Provider) { p.Title = " " },
		"client ID is missing":     func(p *store.Provider) { p.ClientID = "" },
		"no section": func(p *store.Provider) {
			p.Claim, p.Groups = "g", []store.GroupRole{{Group: "a", Section: "x", Role: "publisher"}}
		},
		"no role": func(p *store.Provider) {
			p.Claim, p.Groups = "g", []store.GroupRole{{Group: "a", Section: "juniors", Role: "keeper"}}
		},
		"where the provider tells": func(p *store.Provider) {
			p.Claim, p.Groups = "", []store.GroupRole{{Group: "a", Section: "juniors", Role: "publisher"}}
		},
	} {
		other := p
		change(&other)
		desktest.Refusal(t, b.Provider.Save(t.Context(), other, "", "back"), access.Bad, name)
	}
	// A record that was changed by hand does not get the secret either.
	raw, err := b.Kept.Store.Provider()
	require.NoError(t, err)
	assert.NotContains(t, raw.Secret, "hush")
	raw.Issuer = "https://elsewhere.example"
	require.NoError(t, b.Kept.Store.SaveProvider(raw))
	_, _, err = b.Provider.Begin(t.Context(), "back", "/")
	desktest.Refusal(t, err, access.Clash, "kept with another key")

	require.NoError(t, b.Provider.Remove())
	title, err := b.Provider.Offered()
	require.NoError(t, err)
	assert.Empty(t, title)
	_, _, err = b.Provider.Begin(t.Context(), "back", "/")
	desktest.Refusal(t, err, access.Missing, "no accounts from elsewhere")
}

// Who was sent to the provider by one program of the house may come back to another; nobody comes back with what another
// browser keeps, nor with what was made up.
func TestComingBackToAnotherProgram(t *testing.T) {
	t.Parallel()
	b, at := house(t, nil)
	other := b.Beside(t, at.options)
	begin := func() (state, mark string) {
		t.Helper()
		address, mark, err := b.Provider.Begin(t.Context(), "https://mivlet.example/back", "/pages")
		require.NoError(t, err)
		u, err := url.Parse(address)
		require.NoError(t, err)
		return u.Query().Get("state"), mark
	}
	state, mark := begin()
	for _, kept := range []string{"", "made up", mark[:len(mark)-8] + "AAAAAAA="} {
		_, _, err := other.Provider.Finish(t.Context(), state, "code", kept, "here")
		desktest.Refusal(t, err, access.Bad, "begun elsewhere")
	}
	_, theirs := begin()
	_, _, err := other.Provider.Finish(t.Context(), state, "code", theirs, "here")
	desktest.Refusal(t, err, access.Bad, "begun elsewhere")
	who, next, err := other.Provider.Finish(t.Context(), state, "code", mark, "here")
	require.NoError(t, err)
	assert.Equal(t, []any{"Runa Falk", "/pages"}, []any{who.Name, next})
	_, _, err = other.Provider.Finish(t.Context(), state, "code", mark, "here")
	desktest.Refusal(t, err, access.Bad, "begun elsewhere")

	address, mark, err := b.Provider.Begin(t.Context(), "https://mivlet.example/back", "/"+strings.Repeat("long", 2000))
	require.NoError(t, err)
	assert.Less(t, len(mark), 3500, "a cookie holds 4096 bytes (RFC 6265, 6.1)")
	u, err := url.Parse(address)
	require.NoError(t, err)
	b.SetTime(b.Time().Add(provider.TripsLast + time.Minute))
	_, _, err = other.Provider.Finish(t.Context(), u.Query().Get("state"), "code", mark, "here")
	desktest.Refusal(t, err, access.Bad, "too long ago")
}
