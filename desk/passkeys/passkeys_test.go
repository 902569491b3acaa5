package passkeys_test

import (
	"encoding/base64"
	"encoding/json"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/descope/virtualwebauthn"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/passkeys"
	"mivlet/desk/people"
	"mivlet/store"
)

const atHome = "https://mivlet.club.example"

const rightPassword = "four words in a row"

// withPeople is a house with a keeper and somebody else, who sign in with a password.
func withPeople(t *testing.T) (*desktest.Fixture, access.Person) {
	t.Helper()
	return withOptions(t, desktest.WithKey(t))
}

func withOptions(t *testing.T, set func(*desk.Options)) (*desktest.Fixture, access.Person) {
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

// device is a device that keeps passkeys, as a library of its own makes them.
type device struct {
	site virtualwebauthn.RelyingParty // that it takes the house for
	auth virtualwebauthn.Authenticator
	key  virtualwebauthn.Credential
}

func newDevice() *device {
	return &device{virtualwebauthn.RelyingParty{Name: "Mivlet", ID: "mivlet.club.example", Origin: atHome}, virtualwebauthn.NewAuthenticator(), newKey()}
}

// wholeKey is how many bytes a key has as COSE writes it: a map of five, three small numbers, two
// coordinates of 32 bytes each.
const wholeKey = 1 + 3*2 + 2*(1+2+32)

// newKey draws a key both of whose coordinates need all of their 32 bytes. The library leaves zeros at their
// beginning out (one key in 128 has one), which RFC 9053, 7.1.1 forbids: such a key is refused, rightly.
func newKey() virtualwebauthn.Credential {
	for {
		key := virtualwebauthn.NewCredential(virtualwebauthn.KeyTypeEC2)
		if len(key.Key.AttestationData()) == wholeKey {
			return key
		}
	}
}

// enrols is the answer to a question for a new passkey.
func (k *device) enrols(t *testing.T, q passkeys.Question) []byte {
	t.Helper()
	options, err := virtualwebauthn.ParseAttestationOptions(`{"publicKey":` + string(q.Options) + `}`)
	require.NoError(t, err)
	require.False(t, k.key.IsExcludedForAttestation(*options))
	handle, err := base64.RawURLEncoding.DecodeString(options.UserID)
	if err != nil {
		handle = []byte(options.UserID)
	}
	k.auth.Options.UserHandle = handle
	return []byte(virtualwebauthn.CreateAttestationResponse(k.site, k.auth, k.key, *options))
}

// signs is the answer to a question at the door.
func (k *device) signs(t *testing.T, q passkeys.Question) []byte {
	t.Helper()
	options, err := virtualwebauthn.ParseAssertionOptions(`{"publicKey":` + string(q.Options) + `}`)
	require.NoError(t, err)
	return []byte(virtualwebauthn.CreateAssertionResponse(k.site, k.auth, k.key, *options))
}

// added has somebody add a passkey of a device.
func added(b *desktest.Fixture, who access.Person, k *device) store.Passkey {
	b.T.Helper()
	q, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(b.T, err)
	require.NoError(b.T, b.As(who).Passkeys.Add(q.Ticket, k.enrols(b.T, q), "Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0"))
	all, err := b.As(who).Passkeys.Own()
	require.NoError(b.T, err)
	return all[len(all)-1]
}

// trailOf is what the trail tells, in one text.
func trailOf(b *desktest.Fixture) string {
	b.T.Helper()
	trail, err := b.As(keeper(b)).People.Trail(store.TrailFilter{Most: 100})
	require.NoError(b.T, err)
	var all strings.Builder
	for _, one := range trail {
		all.WriteString(one.What + "\n")
	}
	return all.String()
}

func keeper(b *desktest.Fixture) access.Person {
	b.T.Helper()
	p, err := b.Kept.PersonByLogin("ines")
	require.NoError(b.T, err)
	return access.PersonOf(p)
}

func question(b *desktest.Fixture) passkeys.Question {
	b.T.Helper()
	q, err := b.Passkeys.Ask(atHome)
	require.NoError(b.T, err)
	return q
}

// What a device has signed lets in once, without a password and a code; and the keys of two devices live
// side by side.
func TestAPasskeyLetsIn(t *testing.T) {
	t.Parallel()
	b, who := withPeople(t)
	one, two := newDevice(), newDevice()
	first := added(b, who, one)
	assert.Equal(t, "Firefox on Windows", first.Browser)
	q, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	assert.Contains(t, string(q.Options), first.KeyID, "a device that has one makes no second")
	var told struct {
		User                   struct{ ID, Name string }
		AuthenticatorSelection struct{ ResidentKey, UserVerification string }
	}
	require.NoError(t, json.Unmarshal(q.Options, &told))
	assert.Equal(t, []string{"required", "required"}, []string{told.AuthenticatorSelection.ResidentKey, told.AuthenticatorSelection.UserVerification})
	assert.Equal(t, first.Handle, told.User.ID, "one handle for all of theirs")
	second := added(b, who, two)
	assert.Equal(t, first.Handle, second.Handle)

	for _, k := range []*device{one, two} {
		q := question(b)
		in, err := b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
		require.NoError(t, err)
		assert.Equal(t, "Runa", in.Name)
	}
	assert.Contains(t, trailOf(b), "Signed in, with a passkey")
	all, err := b.As(who).Passkeys.Own()
	require.NoError(t, err)
	assert.False(t, all[0].UsedAt.IsZero())

	require.NoError(t, b.As(who).Passkeys.Remove(first.ID))
	q = question(b)
	_, err = b.Passkeys.SignIn(q.Ticket, one.signs(t, q), "here")
	desktest.Refusal(t, err, access.Bad, "Nobody here has that passkey")
	q = question(b)
	_, err = b.Passkeys.SignIn(q.Ticket, two.signs(t, q), "here")
	require.NoError(t, err)
}

// Two devices that are asked for the first passkey at the same moment both let in.
func TestTwoFirstPasskeysAtOnce(t *testing.T) {
	t.Parallel()
	b, who := withPeople(t)
	one, two := newDevice(), newDevice()
	first, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	second, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	require.NoError(t, b.As(who).Passkeys.Add(first.Ticket, one.enrols(t, first), "x"))
	require.NoError(t, b.As(who).Passkeys.Add(second.Ticket, two.enrols(t, second), "x"))
	for _, k := range []*device{one, two} {
		q := question(b)
		_, err := b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
		require.NoError(t, err)
	}
}

// Whoever tries to come in with what is not theirs stays outside.
func TestPasskeysThatDoNotLetIn(t *testing.T) {
	t.Parallel()
	b, who := withPeople(t)
	k := newDevice()
	kept := added(b, who, k)
	ines, err := b.People.SignIn("ines", rightPassword, "here")
	require.NoError(t, err)
	hers := newDevice()
	added(b, ines, hers)

	for says, attack := range map[string]func(*device, passkeys.Question) (string, []byte){
		"cannot be used here": func(k *device, q passkeys.Question) (string, []byte) { // a site that looks like this one
			k.site.Origin = "https://mivlet-club.example"
			return q.Ticket, k.signs(t, q)
		},
		"cannot be used": func(k *device, q passkeys.Question) (string, []byte) { // the device did not make sure who holds it
			k.auth.Options.UserNotVerified = true
			return q.Ticket, k.signs(t, q)
		},
		"cannot be": func(k *device, q passkeys.Question) (string, []byte) { // an answer to another question
			return q.Ticket, k.signs(t, question(b))
		},
		"That passkey cannot be used": func(k *device, q passkeys.Question) (string, []byte) { // another key under the same number
			k.key = virtualwebauthn.Credential{ID: k.key.ID, Key: newDevice().key.Key}
			return q.Ticket, k.signs(t, q)
		},
		"passkey cannot be": func(k *device, q passkeys.Question) (string, []byte) { // it says that it is hers
			k.auth.Options.UserHandle = hers.auth.Options.UserHandle
			return q.Ticket, k.signs(t, q)
		},
		"passkey cannot": func(_ *device, q passkeys.Question) (string, []byte) { return q.Ticket, []byte(`{"id":1}`) },
		"took too long": func(k *device, q passkeys.Question) (string, []byte) { // a question that the house never asked
			sealed, err := base64.StdEncoding.DecodeString(q.Ticket)
			require.NoError(t, err)
			sealed[len(sealed)/2] ^= 1
			return base64.StdEncoding.EncodeToString(sealed), k.signs(t, q)
		},
		"too long": func(k *device, q passkeys.Question) (string, []byte) {
			b.SetTime(b.Time().Add(6 * time.Minute))
			return q.Ticket, k.signs(t, q)
		},
		"That took": func(k *device, q passkeys.Question) (string, []byte) { return "", k.signs(t, q) },
		"That took too": func(k *device, _ passkeys.Question) (string, []byte) { // a question for a new passkey
			q, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
			require.NoError(t, err)
			return q.Ticket, k.signs(t, q)
		},
	} {
		copied := *k
		ticket, answer := attack(&copied, question(b))
		_, err := b.Passkeys.SignIn(ticket, answer, "far away")
		desktest.Refusal(t, err, access.Bad, says)
	}
	assert.Contains(t, trailOf(b), "A passkey of runa was refused, from far away")

	// The same answer again, though somebody has listened; also many at the same moment.
	q := question(b)
	answer := k.signs(t, q)
	var in atomic.Int32
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			if _, err := b.Passkeys.SignIn(q.Ticket, answer, "here"); err == nil {
				in.Add(1)
			}
		})
	}
	all.Wait()
	assert.EqualValues(t, 1, in.Load())

	// A copy of the device that has signed less often than the device itself.
	k.key.Counter = 5
	q = question(b)
	_, err = b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
	require.NoError(t, err)
	k.key.Counter = 3
	q = question(b)
	_, err = b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
	desktest.Refusal(t, err, access.Bad, "seems to have been copied")

	// Somebody else's passkey cannot be removed, nor added for them.
	require.NoError(t, b.As(ines).Passkeys.Remove(kept.ID))
	own, err := b.As(who).Passkeys.Own()
	require.NoError(t, err)
	assert.Len(t, own, 1)
	fresh := newDevice()
	q, err = b.As(ines).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	desktest.Refusal(t, b.As(who).Passkeys.Add(q.Ticket, fresh.enrols(t, q), "x"), access.Bad, "took too long")

	// Who may no longer sign in does not with a passkey either.
	p, err := b.Kept.Person(who.ID)
	require.NoError(t, err)
	_, err = b.As(ines).People.SaveAccount(people.Account{ID: p.ID, Name: p.Name, Login: p.Login, Away: true})
	require.NoError(t, err)
	k.key.Counter = 9
	q = question(b)
	_, err = b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
	desktest.Refusal(t, err, access.Bad, "is wrong")
}

// A screen that was left open is not enough to add a passkey, and what somebody has lost can be taken away.
func TestAddingAndLosingPasskeys(t *testing.T) {
	t.Parallel()
	b, who := withPeople(t)
	_, err := b.As(who).Passkeys.Begin(atHome, "five words in a row")
	desktest.Refusal(t, err, access.Bad, "password is wrong")
	takes := func(at string, want bool) {
		t.Helper()
		does, err := b.Passkeys.Offered(at)
		require.NoError(t, err)
		assert.Equal(t, want, does, at)
	}
	takes(atHome, false)
	k := newDevice()
	added(b, who, k)
	takes(atHome, true)
	takes("http://localhost:8080", true)
	takes("http://127.0.0.1:8080", false)
	takes("http://[::1]:8080", false)
	q, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	other := newDevice()
	other.site.Origin = "https://elsewhere.example"
	desktest.Refusal(t, b.As(who).Passkeys.Add(q.Ticket, other.enrols(t, q), "x"), access.Bad, "cannot be used here")
	q, err = b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	other = newDevice()
	answer := other.enrols(t, q)
	require.NoError(t, b.As(who).Passkeys.Add(q.Ticket, answer, "x"))
	desktest.Refusal(t, b.As(who).Passkeys.Add(q.Ticket, answer, "x"), access.Bad, "answered already")
	_, err = b.Passkeys.Ask("http://127.0.0.1:8080")
	desktest.Refusal(t, err, access.Bad, "cannot be used at 127.0.0.1:8080")

	require.NoError(t, b.As(keeper(b)).Passkeys.DropOf(who.ID))
	q = question(b)
	_, err = b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
	desktest.Refusal(t, err, access.Bad, "Nobody here has that passkey")

	ines, err := b.People.SignIn("ines", rightPassword, "here")
	require.NoError(t, err)
	added(b, ines, k)
	_, err = b.People.Recover("ines")
	require.NoError(t, err)
	left, err := b.Kept.Passkeys(ines.ID)
	require.NoError(t, err)
	assert.Empty(t, left, "whoever took the account over has no way back")
}

// A question that one program of the house asked is answered at another, once: what is heard on the way and brought to
// another program lets nobody in.
func TestAPasskeyAtAnotherProgram(t *testing.T) {
	t.Parallel()
	key := desktest.WithKey(t)
	b, who := withOptions(t, key)
	other := b.Beside(t, key)
	k := newDevice()
	q, err := b.As(who).Passkeys.Begin(atHome, rightPassword)
	require.NoError(t, err)
	require.NoError(t, other.As(who).Passkeys.Add(q.Ticket, k.enrols(t, q), "x"))
	q = question(b)
	answer := k.signs(t, q)
	in, err := other.Passkeys.SignIn(q.Ticket, answer, "here")
	require.NoError(t, err)
	assert.Equal(t, who.ID, in.ID)
	_, err = b.Passkeys.SignIn(q.Ticket, answer, "here")
	assert.Error(t, err)
	assert.NotContains(t, q.Ticket, ".", "nothing of it can be read")
	stranger := b.Beside(t, desktest.WithKey(t))
	q, err = stranger.Passkeys.Ask(atHome)
	require.NoError(t, err)
	_, err = b.Passkeys.SignIn(q.Ticket, k.signs(t, q), "here")
	desktest.Refusal(t, err, access.Bad, "took too long")
}
