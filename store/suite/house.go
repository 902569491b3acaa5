package suite

import (
	"encoding/json"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

func jsonOf(v any) ([]byte, error) { return json.Marshal(v) }

func people(h *house) {
	save := func(p *store.Person) error { return h.Tx(func(s store.Records) error { return s.SavePerson(p) }) }
	odo := store.Person{Name: "Odo", Login: "odo", Password: "hash", Roles: []store.Role{{Section: "touring", Role: "publisher"}, {Section: "juniors", Role: "contributor"}}, CreatedAt: noon}
	ines := store.Person{Name: "Ines", Login: "ines", Keeper: true, CreatedAt: noon}
	h.ok(save(&odo))
	h.ok(save(&ines))
	assert.ErrorIs(h, save(&store.Person{Name: "Another", Login: "ODO"}), store.ErrTaken, "case does not count in a login")
	for _, one := range []struct {
		day        string
		took, then time.Duration
	}{{"2026-11-02", 1500 * time.Millisecond, 1500 * time.Millisecond}, {"2026-11-02", 700 * time.Millisecond, 2200 * time.Millisecond}, {"2026-11-02", 0, 2200 * time.Millisecond}, {"2026-11-03", time.Minute, time.Minute}, {"2026-11-02", time.Second, time.Second}} {
		assert.Equal(h, one.then, of(h.AddDecoded(one.day, one.took))(h), one.day)
	}
	assert.EqualValues(h, 2, of(h.CountPeople())(h))
	all := of(h.People())(h)
	assert.Equal(h, []string{"Ines", "Odo"}, []string{all[0].Name, all[1].Name}, "keepers first")
	p := of(h.Person(odo.ID))(h)
	assert.Equal(h, []store.Role{{PersonID: odo.ID, Section: "juniors", Role: "contributor"}, {PersonID: odo.ID, Section: "touring", Role: "publisher"}}, p.Roles)
	p.Roles, p.Epoch, p.Away = []store.Role{{Section: "juniors", Role: "publisher"}}, 3, true
	h.ok(save(&p))
	p = of(h.PersonByLogin("Odo"))(h)
	assert.Equal(h, []any{3, true, "hash", 1}, []any{p.Epoch, p.Away, p.Password, len(p.Roles)}, "roles are replaced")
	p.Invitation, p.InvitedUntil = "hash of it", noon
	h.ok(save(&p))
	p = of(h.PersonByInvitation("hash of it"))(h)
	assert.Equal(h, []any{odo.ID, true, 1}, []any{p.ID, p.InvitedUntil.Equal(noon), len(p.Roles)})
	p.Invitation, p.InvitedUntil = "", time.Time{}
	h.ok(save(&p))
	for _, err := range []error{of2(h.Person(99)), of2(h.PersonByLogin("nobody")), of2(h.PersonByInvitation("hash of it")), of2(h.PersonByInvitation(""))} {
		assert.ErrorIs(h, err, store.ErrNotFound)
	}
}

func houseRules(h *house) {
	r, version, err := h.Rules()
	h.ok(err)
	assert.Zero(h, version)
	assert.Equal(h, rules.Default(), r, "ready-made until the house has its own")
	for _, name := range []string{"First", "Brindlemere Paddle Club"} {
		r.House = name
		h.ok(h.SaveRules(r, "Ines", "a name", noon))
	}
	r, version, err = h.Rules()
	h.ok(err)
	assert.Equal(h, "Brindlemere Paddle Club", r.House)
	assert.Equal(h, version, of(h.RulesNumber())(h))
	all := of(h.RulesVersions())(h)
	require.Len(h, all, 2)
	assert.Equal(h, version, all[0].ID, "newest first")
	first := of(h.RulesVersion(all[1].ID))(h)
	old, err := first.Rules()
	h.ok(err)
	assert.Equal(h, []any{"First", "Ines", "a name"}, []any{old.House, first.Person, first.Why})
	assert.ErrorIs(h, of2(h.RulesVersion(99)), store.ErrNotFound)

	assert.ErrorIs(h, of2(h.RulesDraft(1)), store.ErrNotFound)
	for _, doc := range []string{"one", "two"} {
		h.ok(h.SaveRulesDraft(store.RulesDraft{PersonID: 1, Base: version, Doc: doc, UpdatedAt: noon}))
	}
	h.ok(h.SaveRulesDraft(store.RulesDraft{PersonID: 2, Doc: "another's"}))
	assert.Equal(h, "two", of(h.RulesDraft(1))(h).Doc)
	h.ok(h.DropRulesDraft(1))
	assert.ErrorIs(h, of2(h.RulesDraft(1)), store.ErrNotFound)
	assert.Equal(h, "another's", of(h.RulesDraft(2))(h).Doc)
}

func ruler(h *house) {
	a := store.RulerSheet{Title: "a", Hash: "ha", SourceHash: "sa", Width: 800, Height: 600, Scale: 1, CreatedAt: noon}
	b := store.RulerSheet{Title: "b", Hash: "hb"}
	h.ok(h.AddSheet(&a))
	h.ok(h.AddSheet(&b))
	r := store.Reading{SheetID: a.ID, From: 10, To: 650, Title: "Column", Person: "Odo", CreatedAt: noon}
	h.ok(h.AddReading(&r))
	h.ok(h.SetScale(a.ID, 2))
	sheet := of(h.Sheet(a.ID))(h)
	assert.Equal(h, []any{2.0, 800, 1}, []any{sheet.Scale, sheet.Width, len(sheet.Readings)})
	assert.Equal(h, []any{10, 650, "Column"}, []any{sheet.Readings[0].From, sheet.Readings[0].To, sheet.Readings[0].Title})
	all := of(h.Sheets())(h)
	assert.Equal(h, []string{"b", "a"}, []string{all[0].Title, all[1].Title}, "newest first")
	assert.Len(h, of(h.SheetsOf([]string{"sa", ""}))(h), 1)
	h.ok(h.DropReading(b.ID, r.ID))
	assert.Len(h, of(h.Sheet(a.ID))(h).Readings, 1, "it is on another sheet")
	h.ok(h.DropReading(a.ID, r.ID))
	assert.Empty(h, of(h.Sheet(a.ID))(h).Readings)
	h.ok(h.AddReading(&store.Reading{SheetID: a.ID}))
	h.ok(h.DropSheet(a.ID))
	assert.ErrorIs(h, of2(h.Sheet(a.ID)), store.ErrNotFound)
}

func attachments(h *house) {
	a := store.Attachment{Section: "juniors", Title: "Rota", Name: "rota.pdf", OriginalName: "Rota.PDF", Hash: "ha", MediaType: "application/pdf", Bytes: 9, Person: "Odo", CreatedAt: noon}
	b := store.Attachment{Section: "juniors", Title: "Map", Hash: "hb", CreatedAt: noon}
	c := store.Attachment{Section: "touring", Title: "Tides", Hash: "hc", CreatedAt: noon}
	for _, one := range []*store.Attachment{&a, &b, &c} {
		h.ok(h.AddAttachment(one))
	}
	assert.Equal(h, a, of(h.Attachment(a.ID))(h))
	titles := func(sections ...string) []string {
		all := []string{}
		for _, one := range of(h.AttachmentsOf(sections))(h) {
			all = append(all, one.Title)
		}
		return all
	}
	assert.Equal(h, []string{"Map", "Rota"}, titles("juniors"), "newest first")
	assert.Equal(h, []string{"Tides", "Map", "Rota"}, titles("juniors", "touring"))
	assert.Empty(h, of(h.AttachmentsOf([]string{}))(h))
	assert.Len(h, of(h.AttachmentsOf(nil))(h), 3)
	a.Title, a.DroppedAt = "Rota of the autumn", &noon
	h.ok(h.SaveAttachment(&a))
	assert.Equal(h, noon, *of(h.Attachment(a.ID))(h).DroppedAt)
	a.DroppedAt = nil
	h.ok(h.SaveAttachment(&a))
	assert.Nil(h, of(h.Attachment(a.ID))(h).DroppedAt)
	assert.Equal(h, []string{"Map", "Rota of the autumn"}, titles("juniors"))
	h.ok(h.DropAttachment(a.ID))
	assert.ErrorIs(h, of2(h.Attachment(a.ID)), store.ErrNotFound)
	assert.Equal(h, []string{"Map"}, titles("juniors"))
}

func trail(h *house) {
	for i, what := range []string{"Signed in", "Published Autumn", "Named juniors-boat", "Signed in"} {
		h.ok(h.AddTrace(store.Trace{At: noon.Add(time.Duration(i) * time.Minute).In(time.FixedZone("", 3600)), PersonID: 1, Person: []string{"Ines", "Odo"}[i%2], Section: "juniors", PictureID: uint(i % 3), What: what}))
	}
	assert.Empty(h, of(h.CheckTrail())(h), "also when it was written in another zone")
	all := of(h.Trail(store.TrailFilter{}))(h)
	assert.EqualValues(h, len(all), of(h.CountTrail())(h))
	assert.Equal(h, "Signed in", all[0].What)
	assert.Len(h, of(h.Trail(store.TrailFilter{Person: "Odo", Section: "juniors"}))(h), 2)
	assert.Empty(h, of(h.Trail(store.TrailFilter{Section: "touring"}))(h))
	older := of(h.Trail(store.TrailFilter{Before: all[1].ID, Most: 1}))(h)
	require.Len(h, older, 1)
	assert.Equal(h, "Published Autumn", older[0].What)
	assert.Len(h, of(h.TracesSaying(2, []string{"Autumn", "nothing"}))(h), 2)
	assert.Equal(h, "Published Autumn", of(h.LastTrace(1))(h).What)
	assert.ErrorIs(h, of2(h.LastTrace(99)), store.ErrNotFound)
	h.ok(h.Redact(nil, "erased"))
	h.ok(h.Redact([]uint{all[2].ID}, "erased"))
	one := of(h.Trail(store.TrailFilter{Person: "Odo"}))(h)[1]
	assert.Equal(h, []any{"erased", "", true}, []any{one.What, one.Salt, one.Erased})
	assert.Empty(h, of(h.CheckTrail())(h), "the chain stays whole")
	h.ok(h.AddTrace(store.Trace{At: noon, What: store.BackupText + ": 3 files"}))
	h.ok(h.AddTrace(store.Trace{At: noon.Add(time.Hour), Person: "on the machine: ines", What: store.BackupText + ": 3 files"}))
	byHand, byThemselves, err := h.BackupsSince(noon.Add(-time.Second))
	h.ok(err)
	assert.Equal(h, [][]time.Time{{noon.Add(time.Hour)}, {noon}}, [][]time.Time{byHand, byThemselves})
	_, byThemselves, err = h.BackupsSince(noon.Add(time.Second))
	h.ok(err)
	assert.Empty(h, byThemselves)
}

// erasures are left until they have reached the backups.
func erasures(h *house) {
	first := store.Erasure{Picture: 7, CameAt: noon, Variants: true, Why: "The family asked for it", ErasedAt: noon.Add(time.Hour)}
	second := store.Erasure{Picture: 8, CameAt: noon, Names: true, Why: "The family asked for it", ErasedAt: noon.Add(2 * time.Hour)}
	h.ok(h.AddErasure(&first))
	h.ok(h.AddErasure(&second))
	assert.Equal(h, []store.Erasure{first, second}, of(h.ErasuresLeft())(h))
	h.ok(h.EndErasure(first.ID))
	assert.Equal(h, []store.Erasure{second}, of(h.ErasuresLeft())(h))
}

func sessions(h *house) {
	kept := &store.Store{Records: h.Records}
	s := kept.Sessions()
	h.ok(s.Commit("a", []byte("one"), time.Now().Add(time.Hour)))
	h.ok(s.Commit("a", []byte("two"), time.Now().Add(time.Hour)))
	h.ok(s.Commit("old", []byte("x"), time.Now().Add(-time.Second)))
	for _, s := range []*store.Sessions{s, kept.Sessions()} { // also when Mivlet is started anew
		data, ok, err := s.Find("a")
		h.ok(err)
		assert.True(h, ok)
		assert.Equal(h, "two", string(data))
		_, ok, err = s.Find("old")
		h.ok(err)
		assert.False(h, ok, "it has ended")
	}
	assert.ErrorIs(h, of2(h.Session("a", time.Now())), store.ErrNotFound, "a token is not kept as it is")
	h.ok(s.Sweep())
	h.ok(s.Delete("a"))
	h.ok(s.Delete("a"))
	_, ok, err := s.Find("a")
	h.ok(err)
	assert.False(h, ok)
}

func namedFiles(h *house) {
	assert.Empty(h, of(h.NamedFiles())(h))
	pic := h.picture("juniors", "juniors-boat", func(p *store.Picture) {
		p.OriginalHash, p.ArrivedHash, p.PreviewHash, p.ThumbHash, p.LookHash = "original", "arrived", "preview", "thumb", "look"
	})
	h.ok(h.AddCuts([]store.Cut{{PictureID: pic.ID, Key: "k", Hash: "cut"}}, false))
	h.ok(h.SetCopies(pic.ID, "stage", "k", []string{"copy"}))
	h.ok(h.AddSheet(&store.RulerSheet{Hash: "sheet", SourceHash: "not kept"}))
	h.ok(h.AddAttachment(&store.Attachment{Section: "juniors", Hash: "on the shelves", CreatedAt: noon}))
	p := h.page("juniors", "autumn")
	attach := func(hash string) page.Block {
		return page.Block{ID: hash, Kind: page.File, File: &page.Attachment{Hash: hash, Name: "a.pdf"}}
	}
	for _, hash := range []string{"once attached", "attached"} {
		p.Doc.Blocks = []page.Block{attach(hash)}
		h.ok(h.Tx(func(s store.Records) error { return s.AddPageStep(&p, "x", "", noon) }))
	}
	h.publish(&p, store.Published{Path: "/a", Hash: "published page", MediaType: "text/html"})
	gone := page.Doc{Version: page.Version, Blocks: []page.Block{attach("was live")}}
	h.ok(h.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: noon, Doc: string(of(jsonOf(gone))(h)), Files: []store.Published{{Path: "/b", Hash: "was published"}}}))
	all := map[string]bool{}
	for _, hash := range []string{"original", "arrived", "preview", "thumb", "look", "cut", "copy", "sheet", "on the shelves", "once attached", "attached", "published page", "was live", "was published"} {
		all[hash] = true
	}
	assert.Equal(h, all, of(h.NamedFiles())(h))
}
