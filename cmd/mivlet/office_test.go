package main

import (
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/district"
	"mivlet/store/datafolder"
)

const (
	officeHost = "office.district.example"
	northHost  = "north.district.example"
)

// withOffice are two houses, of which one is the office.
func withOffice(t *testing.T) (*many, *office) {
	d := newMany(t, nil, northHost, officeHost)
	d.houses.office = officeHost
	return d, newOffice(d.houses)
}

// What is noted of a house by hand, or by another program, holds there before long, without anybody being interrupted; what
// cannot be read stays as it was.
func TestNotesHoldWhileHousesAreOpen(t *testing.T) {
	t.Parallel()
	d, o := withOffice(t)
	d.keeper(northHost, "ines")
	h, leave, err := d.enter(t.Context(), northHost)
	require.NoError(t, err)
	defer leave()
	note := func(name, text string) {
		t.Helper()
		at := filepath.Join(d.dir, name)
		require.NoError(t, os.WriteFile(at, []byte(text), 0o600))
		later := time.Now().Add(time.Duration(len(text)) * time.Second) // as if time had gone by
		require.NoError(t, os.Chtimes(at, later, later))
		d.renew()
	}
	note("limits.toml", "pictures = 7\n")
	assert.Equal(t, access.Allotment{Pictures: 7}, h.d.Allotted())
	note(northHost+"/limits.toml", "people = 3\n")
	assert.Equal(t, access.Allotment{People: 3}, h.d.Allotted())
	note(northHost+"/limits.toml", "people = many\n")
	assert.Equal(t, access.Allotment{People: 3}, h.d.Allotted())
	all, err := o.All(t.Context())
	require.NoError(t, err)
	assert.Contains(t, all[0].Fault, "limits.toml")

	before := h.d.Held().Stamp()
	note("rules.json", `{"fixed": {"limits": {"side": 9000}}}`)
	assert.Equal(t, 9000, h.d.Rules().Limits.Side)
	assert.NotEqual(t, before, h.d.Held().Stamp(), "whoever signed a page under the rules before signs again")
	note("rules.json", `{"fixed": {"limits": {"side": "wide"}}}`)
	assert.Equal(t, 9000, h.d.Rules().Limits.Side)
	of, leaveOffice, err := d.enter(t.Context(), officeHost)
	require.NoError(t, err)
	defer leaveOffice()
	assert.Equal(t, rules.Default().Limits.Side, of.d.Rules().Limits.Side, "the office gives, and is given nothing")
}

// The office tells of houses that nobody has opened, of those that an earlier version left, and of those that cannot be
// opened, each what it is; it opens none that it need not.
func TestTheOfficeLooksAtAllHouses(t *testing.T) {
	t.Parallel()
	d, o := withOffice(t)
	const broken = "broken.district.example"
	require.NoError(t, os.Mkdir(filepath.Join(d.dir, broken), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(d.dir, broken, datafolder.DatabaseName), []byte("no database"), 0o600))
	all, err := o.All(t.Context())
	require.NoError(t, err)
	require.Len(t, all, 3)
	assert.NotEmpty(t, all[0].Fault)
	assert.True(t, all[1].Unopened)
	assert.Zero(t, d.openNow(), "none was opened for it")

	told, err := o.One(t.Context(), northHost)
	require.NoError(t, err)
	assert.Len(t, told.First, 8)
	c := d.client()
	res, err := c.Get("http://" + northHost + "/first?code=" + told.First)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusOK, res.StatusCode)
	d.keeper(northHost, "runa")
	told, err = o.One(t.Context(), northHost)
	require.NoError(t, err)
	assert.Equal(t, []any{"", 1}, []any{told.First, told.People})
	told, err = o.One(t.Context(), broken)
	require.NoError(t, err)
	assert.NotEmpty(t, told.Fault)
	_, err = o.One(t.Context(), "nobody.district.example")
	require.ErrorIs(t, err, fs.ErrNotExist)
	_, err = o.One(t.Context(), "../"+northHost)
	require.ErrorIs(t, err, fs.ErrNotExist)

	// What was given does not go with what the house has of its own.
	h, leave, err := d.enter(t.Context(), northHost)
	require.NoError(t, err)
	defer leave()
	g, err := rules.ParseGiven([]byte(`{"fixed": {"types": {"photo": []}}}`))
	if err == nil {
		require.NoError(t, o.Give(t.Context(), g))
		assert.Equal(t, rules.Default().House, h.d.Rules().House, "the rules of the house hold")
	}
	require.ErrorIs(t, o.Allot(t.Context(), "nobody.district.example", nil), fs.ErrNotExist)
	require.NoError(t, o.Allot(t.Context(), northHost, &access.Allotment{Bytes: 5}))
	assert.Equal(t, access.Allotment{Bytes: 5}, h.d.Allotted(), "at once")
	require.NoError(t, o.Allot(t.Context(), northHost, nil))
	assert.Zero(t, h.d.Allotted())
}

// Names that differ only in what a schema cannot be called by, or behind its longest name, are two houses in the database.
func TestNoTwoHousesShareASchema(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	require.NoError(t, datafolder.Storage{Records: datafolder.RecordsStorage{Postgres: "postgres://localhost/houses"}}.Write(dir))
	seen := map[string]string{}
	for _, host := range []string{"a-b.district.example", "a.b.district.example", "a--b.district.example", strings.Repeat("long", 9) + ".one.example", strings.Repeat("long", 9) + ".two.example"} {
		require.NoError(t, layHouse(dir, host))
		s, err := datafolder.ReadStorage(filepath.Join(dir, host))
		require.NoError(t, err)
		require.NoError(t, s.Check())
		assert.Empty(t, seen[s.Records.House], "%s and %s", host, seen[s.Records.House])
		seen[s.Records.House] = host
	}
	require.ErrorIs(t, layHouse(dir, "a-b.district.example"), fs.ErrExist)
	require.ErrorIs(t, layHouse(dir, "../outside"), district.ErrName)
	require.ErrorIs(t, layHouse(dir, strings.Repeat("a.", 130)+"example"), district.ErrName)
}
