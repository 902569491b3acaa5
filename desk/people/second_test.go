package people_test

import (
	"bytes"
	"errors"
	"image/png"
	"os/exec"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
	"mivlet/internal/reference"
)

const rightPassword = "four words in a row"

// withKey is a house that keeps secrets, and somebody in it who signs in with a password.
func withKey(t *testing.T) (*desktest.Fixture, access.Person) {
	t.Helper()
	return withPeople(t, desktest.WithKey(t))
}

func withPeople(t *testing.T, set func(*desk.Options)) (*desktest.Fixture, access.Person) {
	t.Helper()
	b := desktest.FreshWith(t, set)
	_, err := b.People.SaveAccount(people.Account{Name: "Ines", Login: "ines", Password: rightPassword, Keeper: true})
	require.NoError(t, err)
	_, err = b.People.SaveAccount(people.Account{Name: "Runa", Login: "runa", Password: rightPassword})
	require.NoError(t, err)
	who, err := b.People.SignIn("runa", rightPassword, "here")
	require.NoError(t, err)
	return b, who
}

// codeOf is the code of a secret at the time of the house, as oathtool makes it, a reference of its own.
func codeOf(b *desktest.Fixture, secret string, later time.Duration) string {
	b.T.Helper()
	at := b.Time().Add(later).UTC().Format("2006-01-02 15:04:05 UTC")
	return strings.TrimSpace(reference.Run(b.T, "oathtool", "--totp", "--base32", "--now", at, secret))
}

// switchOn sets up a second step, and returns its secret and the spare codes.
func switchOn(b *desktest.Fixture, who access.Person) (string, []string) {
	b.T.Helper()
	setup, err := b.As(who).People.BeginSecond()
	require.NoError(b.T, err)
	spare, err := b.As(who).People.ConfirmSecond(codeOf(b, setup.Secret, 0))
	require.NoError(b.T, err)
	return setup.Secret, spare
}

// ticket gives the password, and returns what is asked for with it.
func ticket(b *desktest.Fixture) string {
	b.T.Helper()
	_, err := b.People.SignIn("runa", rightPassword, "here")
	var needs *people.NeedsCode
	require.ErrorAs(b.T, err, &needs)
	return needs.Ticket
}

// The code that oathtool makes (RFC 6238) is asked for after the password, and taken once.
func TestASecondStep(t *testing.T) {
	t.Parallel()
	b, who := withKey(t)
	secret, spare := switchOn(b, who)
	kept, err := b.Kept.Store.Person(who.ID)
	require.NoError(t, err)
	assert.NotContains(t, kept.Second, secret, "the records alone give no codes")
	for _, one := range spare {
		assert.NotContains(t, strings.Join(kept.SecondSpare, " "), one)
	}

	first := ticket(b)
	_, err = b.People.SecondStep(first, codeOf(b, secret, 0), "here")
	desktest.Refusal(t, err, access.Bad, "wrong, or was used already") // it was given while it was set up
	b.SetTime(b.Time().Add(time.Minute))
	code := codeOf(b, secret, 0)
	in, err := b.People.SecondStep(first, code, "here")
	require.NoError(t, err)
	assert.Equal(t, who.ID, in.ID)
	_, err = b.People.SecondStep(first, code, "here")
	desktest.Refusal(t, err, access.Bad, "too long ago") // a ticket lets in once
	_, err = b.People.SecondStep(ticket(b), code, "here")
	desktest.Refusal(t, err, access.Bad, "used already") // and so does a code

	b.SetTime(b.Time().Add(2 * time.Minute))
	for later, ok := range map[time.Duration]bool{-100 * time.Second: false, 100 * time.Second: false} {
		_, err = b.People.SecondStep(ticket(b), codeOf(b, secret, later), "here")
		assert.Equal(t, ok, err == nil, "a clock that is off by %s", later)
	}
	b.SetTime(b.Time().Add(10 * time.Minute))
	_, err = b.People.SecondStep(ticket(b), codeOf(b, secret, 25*time.Second), "here")
	assert.NoError(t, err, "clocks are off by some seconds")

	// A spare code works once, however it is written.
	b.SetTime(b.Time().Add(10 * time.Minute))
	_, err = b.People.SecondStep(ticket(b), " "+strings.ToLower(spare[0])+" ", "here")
	require.NoError(t, err)
	_, err = b.People.SecondStep(ticket(b), spare[0], "here")
	assert.Error(t, err)
}

// Many at once with one code: one gets in.
func TestACodeIsTakenOnce(t *testing.T) {
	t.Parallel()
	b, who := withKey(t)
	secret, spare := switchOn(b, who)
	b.SetTime(b.Time().Add(time.Minute))
	for _, code := range []string{codeOf(b, secret, 0), spare[3]} {
		one := ticket(b)
		var in sync.Map
		var all sync.WaitGroup
		for i := range 12 {
			all.Go(func() {
				if _, err := b.People.SecondStep(one, code, "here"); err == nil {
					in.Store(i, true)
				}
			})
		}
		all.Wait()
		n := 0
		in.Range(func(any, any) bool { n++; return true })
		assert.Equal(t, 1, n)
		b.SetTime(b.Time().Add(10 * time.Minute))
	}
}

// Guessing codes is slowed down, also over several tickets; no password, no code; nobody else's.
func TestCodesAreNotGuessed(t *testing.T) {
	t.Parallel()
	b, who := withKey(t)
	_, spare := switchOn(b, who)
	slowed := false
	for range 8 {
		_, err := b.People.SecondStep(ticket(b), "123456", "there")
		var r *access.Refusal
		require.ErrorAs(t, err, &r)
		slowed = slowed || r.Kind == access.TooSoon
	}
	assert.True(t, slowed)
	b.SetTime(b.Time().Add(time.Hour))
	for _, made := range []string{"", "x"} {
		_, err := b.People.SecondStep(made, spare[0], "here")
		desktest.Refusal(t, err, access.Bad, "too long ago")
	}
	late := ticket(b)
	b.SetTime(b.Time().Add(6 * time.Minute))
	_, err := b.People.SecondStep(late, spare[0], "here")
	desktest.Refusal(t, err, access.Bad, "too long ago")

	// Whoever is sent away between the two does not get in.
	gone := ticket(b)
	_, err = b.People.SaveAccount(people.Account{ID: who.ID, Name: "Runa", Login: "runa", Away: true})
	require.NoError(t, err)
	_, err = b.People.SecondStep(gone, spare[0], "here")
	assert.Error(t, err)
}

func TestTakingASecondStepAway(t *testing.T) {
	t.Parallel()
	b, who := withKey(t)
	switchOn(b, who)
	own := b.As(who).People
	desktest.Refusal(t, own.DropSecond("wrong"), access.Bad, "password is wrong")
	require.NoError(t, own.DropSecond(rightPassword))
	_, err := b.People.SignIn("runa", rightPassword, "here")
	require.NoError(t, err)

	who, err = b.People.SignIn("runa", rightPassword, "here")
	require.NoError(t, err)
	switchOn(b, who)
	require.NoError(t, b.People.DropSecondOf(who.ID))
	_, there, err := b.People.Returning(who.ID, who.Epoch())
	require.NoError(t, err)
	assert.False(t, there, "their sessions have ended")
	_, err = b.People.SignIn("runa", rightPassword, "here")
	require.NoError(t, err)

	// Whoever runs the machine helps a keeper who has lost it.
	keeper, err := b.People.SignIn("ines", rightPassword, "here")
	require.NoError(t, err)
	switchOn(b, keeper)
	fresh, err := b.People.Recover("ines")
	require.NoError(t, err)
	_, err = b.People.SignIn("ines", fresh, "here")
	require.NoError(t, err)

	// Nothing holds before a code was given, and only for the one whose it is.
	who, err = b.People.SignIn("runa", rightPassword, "here")
	require.NoError(t, err)
	setup, err := b.As(who).People.BeginSecond()
	require.NoError(t, err)
	again, err := b.As(who).People.BeginSecond()
	require.NoError(t, err)
	assert.Equal(t, setup.Secret, again.Secret, "the picture and the text are of one secret")
	_, err = b.As(who).People.ConfirmSecond("000000")
	desktest.Refusal(t, err, access.Bad, "code is wrong")
	_, err = b.People.SignIn("runa", rightPassword, "here")
	assert.NoError(t, err)
}

// What a device reads from the picture is what it needs to know, as zbar reads it.
func TestTheQRCodeSaysWhatADeviceNeeds(t *testing.T) {
	t.Parallel()
	b, who := withKey(t)
	setup, err := b.As(who).People.BeginSecond()
	require.NoError(t, err)
	_, err = png.Decode(bytes.NewReader(setup.QR))
	require.NoError(t, err)
	cmd := exec.Command("zbarimg", "--quiet", "--raw", "png:-")
	cmd.Stdin = bytes.NewReader(setup.QR)
	out, err := cmd.Output()
	var exit *exec.ExitError
	if errors.As(err, &exit) {
		t.Fatal(string(exit.Stderr))
	}
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(string(out), "otpauth://totp/"), string(out))
	for _, part := range []string{"secret=" + setup.Secret, "issuer=Mivlet", "runa", "period=30", "digits=6"} {
		assert.Contains(t, string(out), part)
	}
}

// Sessions are listed for whoever is in them, and end one by one.
func TestOwnSessions(t *testing.T) {
	t.Parallel()
	b, who := withKey(t)
	const firefox = "Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0"
	begin := func(agent string) access.Person {
		n, err := b.People.Begin(who, agent)
		require.NoError(t, err)
		in, ok, err := b.People.Continues(who.ID, who.Epoch(), n)
		require.NoError(t, err)
		require.True(t, ok)
		require.Equal(t, n, in.Session())
		return in
	}
	one, two := begin(firefox), begin("<script>")
	all, err := b.As(one).People.OwnSessions()
	require.NoError(t, err)
	require.Len(t, all, 2)
	assert.Equal(t, "Firefox on Windows", all[1].Browser)
	stays := func(p access.Person) bool {
		_, ok, err := b.People.Continues(p.ID, p.Epoch(), p.Session())
		require.NoError(t, err)
		return ok
	}
	require.NoError(t, b.As(one).People.EndSession(two.Session()))
	assert.False(t, stays(two))
	assert.True(t, stays(one))
	ended, err := b.As(two).People.Ended()
	require.NoError(t, err)
	assert.True(t, ended, "it hears nothing more either")
	desktest.Refusal(t, b.As(one).People.EndSession(two.Session()), access.Missing, "ended already")

	other, err := b.Kept.Store.PersonByLogin("ines")
	require.NoError(t, err)
	theirs, err := b.People.Begin(access.PersonOf(other), firefox)
	require.NoError(t, err)
	desktest.Refusal(t, b.As(one).People.EndSession(theirs), access.Missing, "ended already")
	_, ok, err := b.People.Continues(who.ID, who.Epoch(), theirs)
	require.NoError(t, err)
	assert.False(t, ok, "nobody goes on in a session of somebody else")

	// Requests that are under way while it is ended do not bring it back.
	for range 20 {
		fast := begin(firefox)
		var all sync.WaitGroup
		for range 8 {
			all.Go(func() { _, _, _ = b.People.Continues(fast.ID, fast.Epoch(), fast.Session()) })
		}
		assert.NoError(t, b.As(one).People.EndSession(fast.Session()))
		all.Wait()
		assert.False(t, stays(fast))
	}

	three := begin(firefox)
	require.NoError(t, b.As(one).People.SignOutEverywhere())
	assert.False(t, stays(one))
	assert.False(t, stays(three))

	// One that nobody uses ends, and is listed no more.
	who, err = b.People.SignIn("runa", rightPassword, "here")
	require.NoError(t, err)
	old := begin(firefox)
	b.SetTime(b.Time().Add(13 * 24 * time.Hour))
	assert.True(t, stays(old))
	b.SetTime(b.Time().Add(13 * 24 * time.Hour))
	require.NoError(t, b.People.TidySessions())
	left, err := b.As(old).People.OwnSessions()
	require.NoError(t, err)
	assert.Len(t, left, 1, "it was used in between")
	b.SetTime(b.Time().Add(15 * 24 * time.Hour))
	require.NoError(t, b.People.TidySessions())
	left, err = b.As(old).People.OwnSessions()
	require.NoError(t, err)
	assert.Empty(t, left)
	require.NoError(t, b.As(old).People.SignedOut())
}

// Whichever program of the house somebody is led to next, it knows that they have given their password, and which second step
// they are setting up.
func TestTheSecondStepAtAnotherProgram(t *testing.T) {
	t.Parallel()
	key := desktest.WithKey(t)
	b, who := withPeople(t, key)
	other := b.Beside(t, key)
	setup, err := b.As(who).People.BeginSecond()
	require.NoError(t, err)
	again, err := other.As(who).People.BeginSecond()
	require.NoError(t, err)
	assert.Equal(t, setup.Secret, again.Secret)
	_, err = other.As(who).People.ConfirmSecond(codeOf(b, setup.Secret, 0))
	require.NoError(t, err)
	_, err = b.As(who).People.ConfirmSecond(codeOf(b, setup.Secret, 0))
	desktest.Refusal(t, err, access.Bad, "too long ago")

	b.SetTime(b.Time().Add(time.Minute))
	first := ticket(b)
	in, err := other.People.SecondStep(first, codeOf(b, setup.Secret, 0), "here")
	require.NoError(t, err)
	assert.Equal(t, who.ID, in.ID)
	_, err = b.People.SecondStep(first, codeOf(b, setup.Secret, 0), "here")
	desktest.Refusal(t, err, access.Bad, "too long ago")
	late := ticket(b)
	b.SetTime(b.Time().Add(6 * time.Minute))
	_, err = other.People.SecondStep(late, codeOf(b, setup.Secret, 0), "here")
	desktest.Refusal(t, err, access.Bad, "too long ago")
}
