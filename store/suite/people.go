
// providers keep whose accounts people sign in with.
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
