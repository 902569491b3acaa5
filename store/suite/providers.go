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
