package suite

import (
	"time"

	"github.com/stretchr/testify/assert"

	"mivlet/store"
)

func providers(h *house) {
	_, err := h.Provider()
	assert.ErrorIs(h, err, store.ErrNotFound)
	p := store.Provider{Title: "School", Issuer: "https://a.example", ClientID: "mivlet", Secret: "sealed"}
	h.ok(h.SaveProvider(p))
	p.Groups = []store.GroupRole{{Group: "teachers", Section: "juniors", Role: "publisher"}}
	h.ok(h.SaveProvider(p))
	p.ID = 1
	assert.Equal(h, p, of(h.Provider())(h), "there is one at most")
	h.ok(h.DropProvider())
	_, err = h.Provider()
	assert.ErrorIs(h, err, store.ErrNotFound)

	_, err = h.PersonBySubject("", "")
	assert.ErrorIs(h, err, store.ErrNotFound, "whoever came by no provider is not found by none")
	one := store.Person{Name: "Runa", Login: "runa", Issuer: "https://a.example", Subject: "s-1", CreatedAt: noon}
	h.ok(h.SavePerson(&one))
	found, err := h.PersonBySubject("https://a.example", "s-1")
	h.ok(err)
	assert.Equal(h, one.ID, found.ID)
	_, err = h.PersonBySubject("https://b.example", "s-1")
	assert.ErrorIs(h, err, store.ErrNotFound)
	other := store.Person{Name: "Noa", Login: "noa", Issuer: "https://a.example", Subject: "s-1", CreatedAt: noon}
	assert.ErrorIs(h, h.SavePerson(&other), store.ErrTaken)
}

// passkeys keeps what people sign in with instead of a password.
func passkeys(h *house) {
	p := store.Person{Name: "Runa", Login: "runa", CreatedAt: noon}
	other := store.Person{Name: "Noa", Login: "noa", CreatedAt: noon}
	h.ok(h.SavePerson(&p))
	h.ok(h.SavePerson(&other))
	add := func(person uint, key string) store.Passkey {
		one := store.Passkey{PersonID: person, Handle: "h", KeyID: key, Kept: "{}", Browser: "Firefox", AddedAt: noon}
		h.ok(h.AddPasskey(&one))
		return one
	}
	first, second, theirs := add(p.ID, "k-1"), add(p.ID, "k-2"), add(other.ID, "k-3")
	twice := store.Passkey{PersonID: other.ID, Handle: "h", KeyID: "k-1", Kept: "{}", AddedAt: noon}
	assert.ErrorIs(h, h.AddPasskey(&twice), store.ErrTaken)
	h.ok(h.UsePasskey(first.ID, `{"n":1}`, noon.Add(time.Hour)))
	first.Kept, first.UsedAt = `{"n":1}`, noon.Add(time.Hour)
	assert.Equal(h, first, of(h.PasskeyByKey("k-1"))(h))
	assert.Equal(h, []store.Passkey{first, second}, of(h.Passkeys(p.ID))(h))
	assert.EqualValues(h, 3, of(h.CountPasskeys())(h))
	_, err := h.PasskeyByKey("k-9")
	assert.ErrorIs(h, err, store.ErrNotFound)
	h.ok(h.DropPasskey(p.ID, theirs.ID))
	assert.Len(h, of(h.Passkeys(other.ID))(h), 1, "nobody drops those of others")
	h.ok(h.DropPasskey(p.ID, first.ID))
	assert.Equal(h, []store.Passkey{second}, of(h.Passkeys(p.ID))(h))
	h.ok(h.DropPasskey(p.ID, 0))
	assert.Empty(h, of(h.Passkeys(p.ID))(h))
}

// signedIn keeps where people are signed in.
func signedIn(h *house) {
	p := store.Person{Name: "Runa", Login: "runa", CreatedAt: noon}
	other := store.Person{Name: "Noa", Login: "noa", CreatedAt: noon}
	h.ok(h.SavePerson(&p))
	h.ok(h.SavePerson(&other))
	begin := func(person uint, at time.Time) uint {
		one := store.SignedIn{PersonID: person, Since: at, SeenAt: at, Browser: "Firefox"}
		h.ok(h.AddSignedIn(&one))
		return one.ID
	}
	first, second, theirs := begin(p.ID, noon), begin(p.ID, noon.Add(time.Minute)), begin(other.ID, noon)
	ids := func(person uint) (all []uint) {
		for _, one := range of(h.SignedIn(person))(h) {
			all = append(all, one.ID)
		}
		return all
	}
	assert.Equal(h, []uint{second, first}, ids(p.ID))
	h.ok(h.SeeSignedIn(first, noon.Add(time.Hour)))
	assert.Equal(h, []uint{first, second}, ids(p.ID), "the one that was used last first")
	h.ok(h.EndSignedIn(p.ID, theirs))
	assert.Equal(h, []uint{theirs}, ids(other.ID), "nobody ends those of others")
	h.ok(h.DropSignedInBefore(noon.Add(30 * time.Minute)))
	assert.Equal(h, []uint{first}, ids(p.ID))
	assert.Empty(h, ids(other.ID))
	h.ok(h.EndSignedIn(p.ID, 0))
	assert.Empty(h, ids(p.ID))
}
