package passkeys

import (
	"bytes"
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/url"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"mivlet/desk/access"
	"mivlet/desk/people"
	"mivlet/store"
)

// lasts is how long somebody may take to answer.
const lasts = 5 * time.Minute

// most is how many somebody may have.
const most = 20

// asked is a question that a passkey answers. Whoever asks keeps it, sealed by the house: anybody may ask,
// and as the house keeps nothing of it, nobody who asks a million times crowds out somebody else.
type asked struct {
	Person  uint                 `json:"person"` // who adds one; 0 where somebody signs in
	Origin  string               `json:"origin"`
	Session webauthn.SessionData `json:"session"`
	Ends    time.Time            `json:"ends"`
}

// Question is what a browser hands to a device.
type Question struct {
	Ticket  string          `json:"ticket"` // to be given back with the answer
	Options json.RawMessage `json:"options"`
}

// relying is the house as a device knows it that somebody reached at an address, such as
// https://mivlet.club.example. Passkeys belong to the name in it, not to the port.
func (d *Desk) relying(origin string) (*webauthn.WebAuthn, error) {
	u, err := url.Parse(origin)
	if err != nil {
		return nil, err
	}
	if !named(u) {
		return nil, access.Refuse(access.Bad, "Passkeys cannot be used at "+u.Host+", which is no name.", "Open Mivlet under its name, or sign in with your password.")
	}
	return webauthn.New(&webauthn.Config{RPID: u.Hostname(), RPDisplayName: "Mivlet, " + d.Rules().House, RPOrigins: []string{origin},
		Timeouts: webauthn.TimeoutsConfig{Login: webauthn.TimeoutConfig{Enforce: true, Timeout: lasts, TimeoutUVD: lasts},
			Registration: webauthn.TimeoutConfig{Enforce: true, Timeout: lasts, TimeoutUVD: lasts}}})
}

// named reports whether an address has a name, which passkeys need (Web Authentication Level 3, 5.1.3: the
// effective domain is no IP address).
func named(u *url.URL) bool { return u.Hostname() != "" && net.ParseIP(u.Hostname()) == nil }

// Offered reports whether somebody who comes by an address may sign in with a passkey: it has a name,
// and somebody has one.
func (d *Desk) Offered(origin string) (bool, error) {
	u, err := url.Parse(origin)
	if err != nil || !named(u) {
		return false, err
	}
	n, err := d.Store.CountPasskeys()
	return n > 0, err
}

// holder is somebody with their passkeys, as the library asks for them.
type holder struct {
	person store.Person
	handle []byte
	kept   []webauthn.Credential
}

func (h holder) WebAuthnID() []byte                         { return h.handle }
func (h holder) WebAuthnName() string                       { return h.person.Login }
func (h holder) WebAuthnDisplayName() string                { return h.person.Name }
func (h holder) WebAuthnCredentials() []webauthn.Credential { return h.kept }

// holderOf reads the passkeys of somebody. Whoever has none yet gets a handle of chance: it tells
// nothing of them (Web Authentication Level 3, 14.6.1).
func holderOf(s store.Records, p store.Person) (h holder, err error) {
	all, err := s.Passkeys(p.ID)
	if err != nil {
		return h, err
	}
	h.person = p
	for _, one := range all {
		var kept webauthn.Credential
		if err := json.Unmarshal([]byte(one.Kept), &kept); err != nil {
			return h, fmt.Errorf("passkey %d: %w", one.ID, err)
		}
		if h.handle, err = base64.RawURLEncoding.DecodeString(one.Handle); err != nil {
			return h, fmt.Errorf("passkey %d: %w", one.ID, err)
		}
		h.kept = append(h.kept, kept)
	}
	if h.handle == nil {
		h.handle = make([]byte, 32)
		_, err = rand.Read(h.handle)
	}
	return h, err
}

// purpose is what questions are sealed for.
const purpose = "question for a passkey"

// ask writes a question down for whoever asks.
func (d *Desk) ask(person uint, origin string, session *webauthn.SessionData, options any) (q Question, err error) {
	if q.Options, err = json.Marshal(options); err != nil {
		return q, err
	}
	text, err := json.Marshal(asked{person, origin, *session, d.Now().Add(lasts)})
	if err != nil {
		return q, err
	}
	key, err := d.sealer.Sealer()
	if err != nil {
		return q, err
	}
	q.Ticket, err = key.Seal(text, purpose)
	return q, err
}

// answered reads a question that comes back with its answer.
func (d *Desk) answered(ticket string, person uint) (a asked, err error) {
	key, err := d.sealer.Sealer()
	if err != nil {
		return a, err
	}
	text, err := key.Open(ticket, purpose)
	if err == nil {
		err = json.Unmarshal(text, &a)
	}
	if err != nil || a.Session.Challenge == "" || a.Person != person || !d.Now().Before(a.Ends) {
		return asked{}, access.Because(access.Bad, "That took too long.", "Try again.", err)
	}
	a.Session.Expires = time.Now().Add(lasts) // it was looked at by the clock of the house
	return a, nil
}

// once notes that a question has been answered rightly, unless it had been before.
func (d *Desk) once(s store.Records, a asked) error {
	var before bool
	known, err := answers.Kept(s, a.Session.Challenge, d.Now(), &before)
	if err != nil {
		return err
	}
	if known {
		return access.Refuse(access.Bad, "That has been answered already.", "Try again.")
	}
	return answers.Keep(s, a.Session.Challenge, true, a.Ends)
}

// Own returns those of whoever is at the desk, the oldest first.
func (d *Desk) Own() ([]store.Passkey, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.Passkeys(d.Person.ID)
}

// Begin asks the device of whoever is at the desk for a passkey. It asks for the password, too: who
// finds a screen that was left open does not add their own.
func (d *Desk) Begin(origin, password string) (q Question, err error) {
	p, err := d.people.Confirm(password)
	if err != nil {
		return q, err
	}
	h, err := holderOf(d.Store, p)
	if err != nil {
		return q, err
	}
	if len(h.kept) >= most {
		return q, access.Refuse(access.Clash, fmt.Sprintf("You have %d passkeys.", len(h.kept)), "Remove one that you no longer use.")
	}
	w, err := d.relying(origin)
	if err != nil {
		return q, err
	}
	options, session, err := w.BeginRegistration(h, webauthn.WithExclusions(webauthn.Credentials(h.kept).CredentialDescriptors()),
		webauthn.WithConveyancePreference(protocol.PreferNoAttestation),
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired}))
	if err != nil {
		return q, err
	}
	return d.ask(p.ID, origin, session, options.Response)
}

// Add keeps the passkey that a device answered with. agent is what the browser calls itself.
func (d *Desk) Add(ticket string, answer []byte, agent string) error {
	p, err := d.people.Own()
	if err != nil {
		return err
	}
	a, err := d.answered(ticket, p.ID)
	if err != nil {
		return err
	}
	w, err := d.relying(a.Origin)
	if err != nil {
		return err
	}
	parsed, err := protocol.ParseCredentialCreationResponseBytes(answer)
	if err != nil {
		return notTaken(err)
	}
	kept, err := w.CreateCredential(holder{person: p, handle: a.Session.UserID}, a.Session, parsed)
	if err != nil {
		return notTaken(err)
	}
	text, err := json.Marshal(kept)
	if err != nil {
		return err
	}
	one := store.Passkey{PersonID: p.ID, Handle: base64.RawURLEncoding.EncodeToString(a.Session.UserID), KeyID: base64.RawURLEncoding.EncodeToString(kept.ID),
		Kept: string(text), Browser: people.BrowserOf(agent), AddedAt: d.Now()}
	err = d.Store.Tx(func(s store.Records) error {
		if err := d.once(s, a); err != nil {
			return err
		}
		if err := s.AddPasskey(&one); err != nil {
			return err
		}
		return d.Trace(s, "", "Added a passkey (%s)", one.Browser)
	})
	if errors.Is(err, store.ErrTaken) {
		return access.Refuse(access.Clash, "That passkey is kept already.", "Nothing was changed.")
	}
	return err
}

func notTaken(err error) error {
	return access.Because(access.Bad, "That passkey cannot be used here.", "Try again, or sign in with your password.", err)
}

// Ask asks for any passkey of this house. Whose it is, the answer tells.
func (d *Desk) Ask(origin string) (q Question, err error) {
	w, err := d.relying(origin)
	if err != nil {
		return q, err
	}
	options, session, err := w.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return q, err
	}
	return d.ask(0, origin, session, options.Response)
}

// SignIn lets somebody in whose device answered. from is where the try comes from.
func (d *Desk) SignIn(ticket string, answer []byte, from string) (who access.Person, err error) {
	a, err := d.answered(ticket, 0)
	if err != nil {
		return who, err
	}
	w, err := d.relying(a.Origin)
	if err != nil {
		return who, err
	}
	parsed, err := protocol.ParseCredentialRequestResponseBytes(answer)
	if err != nil {
		return who, notTaken(err)
	}
	var refused error
	err = d.Store.Tx(func(s store.Records) error {
		one, err := s.PasskeyByKey(base64.RawURLEncoding.EncodeToString(parsed.RawID))
		if errors.Is(err, store.ErrNotFound) {
			return access.Because(access.Bad, "Nobody here has that passkey any more.", "Sign in with your password.", err)
		}
		if err != nil {
			return err
		}
		p, err := s.Person(one.PersonID)
		if err != nil {
			return access.NotFound(err, "Your account")
		}
		h, err := holderOf(s, p)
		if err != nil {
			return err
		}
		if h.handle, err = base64.RawURLEncoding.DecodeString(one.Handle); err != nil { // two that were begun at once have one each
			return fmt.Errorf("passkey %d: %w", one.ID, err)
		}
		kept, err := w.ValidateDiscoverableLogin(func(_, handle []byte) (webauthn.User, error) {
			if !bytes.Equal(handle, h.handle) {
				return nil, errors.New("the passkey is somebody else's")
			}
			return h, nil
		}, a.Session, parsed)
		switch {
		case err != nil:
			refused = notTaken(err)
			return d.TraceAs(access.Person{Name: "Nobody signed in"}, s, "", "A passkey of %s was refused, from %s", p.Login, from)
		case kept.Authenticator.CloneWarning: // its counter went back (Web Authentication Level 3, 6.1.1)
			refused = access.Refuse(access.Bad, "That passkey seems to have been copied.", "Sign in with your password, remove it and add another.")
			return d.TraceAs(access.Person{Name: "Nobody signed in"}, s, "", "A passkey of %s was refused that seems to be copied, from %s", p.Login, from)
		case p.Away || p.Password == "":
			refused = people.ErrWrong()
			return d.TraceAs(access.PersonOf(p), s, "", "Was refused, though the passkey is right: may no longer sign in")
		}
		if refused = d.once(s, a); refused != nil {
			return nil
		}
		text, err := json.Marshal(kept)
		if err != nil {
			return err
		}
		if err := s.UsePasskey(one.ID, string(text), d.Now()); err != nil {
			return err
		}
		who = access.PersonOf(p)
		return d.TraceAs(who, s, "", "Signed in, with a passkey")
	})
	if err = errors.Join(err, refused); err != nil {
		return access.Person{}, err
	}
	return who, nil
}

// Remove forgets a passkey of whoever is at the desk.
func (d *Desk) Remove(id uint) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	return d.drop(d.Person.ID, id, "Removed an own passkey")
}

// Of returns those of somebody, for those who keep the house.
func (d *Desk) Of(person uint) ([]store.Passkey, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	return d.Store.Passkeys(person)
}

// DropOf forgets all passkeys of somebody else, who has lost a device. Only keepers do so.
func (d *Desk) DropOf(person uint) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	p, err := d.Store.Person(person)
	if err != nil {
		return access.NotFound(err, "That person")
	}
	return d.drop(person, 0, "Removed the passkeys of "+p.Name)
}

func (d *Desk) drop(person, id uint, what string) error {
	return d.Store.Tx(func(s store.Records) error {
		if err := s.DropPasskey(person, id); err != nil {
			return err
		}
		return d.Trace(s, "", "%s", what)
	})
}
