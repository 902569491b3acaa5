package mirror_test

import (
	"context"
	"io"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/desktest"
	"mivlet/desk/mirror"
	"mivlet/practice"
	"mivlet/practice/window"
)

// mirrored is a house with a live page, whose site is asked by a test, too.
type mirrored struct {
	*desktest.Fixture
	site   practice.Site
	asked  []string                                          // addresses, with the status of the answer
	before func(w http.ResponseWriter, r *http.Request) bool // answers instead; may be nil
	memory mirror.Memory
}

func newMirrored(t *testing.T) *mirrored {
	t.Helper()
	m := &mirrored{Fixture: desktest.Fresh(t)}
	m.site = practice.Site{Rules: m.Rules}
	require.NoError(t, m.Lists.UseLayout(window.Layout(m.site)))
	plain := m.site.Plain(window.Of{Desk: m.Desk})
	m.Mirror.UseSite(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		assert.Equal(t, "prefetch", r.Header.Get("Sec-Purpose"), "nobody is counted")
		if m.before == nil || !m.before(w, r) {
			plain.ServeHTTP(w, r)
		}
		how := " in full"
		if r.Header.Get("If-None-Match") != "" {
			how = " where it changed"
		}
		m.asked = append(m.asked, r.URL.Path+how)
	}))
	return m
}

func (m *mirrored) goLive() {
	m.T.Helper()
	_, err := m.Publish.Publish(context.Background(), m.PageID, m.PageView().Seen, "it is a test", window.Layout(m.site))
	require.NoError(m.T, err)
}

func (m *mirrored) walk() *mirror.Site {
	m.T.Helper()
	m.asked = nil
	s, err := m.Mirror.Walk(mirror.Target{Base: "https://club.example"}, &m.memory)
	require.NoError(m.T, err)
	return s
}

func read(t *testing.T, s *mirror.Site, path string) string {
	t.Helper()
	require.Contains(t, s.Files, path)
	in, err := s.Open(s.Files[path])
	require.NoError(t, err)
	defer in.Close()
	data, err := io.ReadAll(in)
	require.NoError(t, err)
	assert.EqualValues(t, s.Files[path].Bytes, len(data))
	return string(data)
}

const live = "juniors/autumn/index.html"

// A page that has not changed is not written again, but where a style has that it shows.
func TestOnlyChangedPagesAreWrittenAgain(t *testing.T) {
	t.Parallel()
	m := newMirrored(t)
	m.Place(m.Ready("juniors-boats", 1))
	m.goLive()
	first := m.walk()
	assert.Contains(t, m.asked, "/juniors/autumn in full")
	again := m.walk()
	assert.Contains(t, m.asked, "/juniors/autumn where it changed")
	assert.NotContains(t, m.asked, "/juniors/autumn in full")
	require.Len(t, again.Files, len(first.Files))
	for path, f := range first.Files {
		assert.Equal(t, f.Sum, again.Files[path].Sum, path)
	}
	m.UnderRules(func(r *rules.Rules) { r.Page.Cap += 20 })
	other := m.walk()
	assert.Contains(t, m.asked, "/juniors/autumn in full")
	assert.NotEqual(t, first.Files[live].Sum, other.Files[live].Sum)
	for path := range other.Files {
		if strings.HasPrefix(path, "site-") {
			assert.NotContains(t, first.Files, path)
			assert.Contains(t, read(t, other, live), "/"+path)
		}
	}
}

// A link to a page that has moved leads where it is now; one that leads nowhere is told.
func TestLinksThatLeadNowhereAreTold(t *testing.T) {
	t.Parallel()
	m := newMirrored(t)
	require.NoError(t, m.Pages.SetText(m.PageID, "a", m.MarkOf("a"), "[Nowhere](/juniors/nowhere), [itself](/juniors/autumn)."))
	m.goLive()
	s := m.walk()
	assert.Equal(t, []mirror.Broken{{On: "/juniors/autumn", To: "/juniors/nowhere"}}, s.Broken)
	require.NoError(t, m.Pages.RenamePage(m.PageID, "Autumn", "late-autumn"))
	s = m.walk()
	assert.NotContains(t, s.Files, live)
	assert.Contains(t, read(t, s, "juniors/late-autumn/index.html"), `href="/juniors/late-autumn/"`)
}

// Where the site changes while it is walked through, the walk begins again; what is sent has the sum
// that was found, or is not sent.
func TestASiteThatChangesIsWalkedThroughAgain(t *testing.T) {
	t.Parallel()
	m := newMirrored(t)
	m.Place(m.Ready("juniors-boats", 1))
	m.goLive()
	n := 0
	m.before = func(w http.ResponseWriter, r *http.Request) bool {
		if r.URL.Path != "/juniors/autumn" {
			return false
		}
		if n++; n == 1 {
			w.Header().Set("Content-Type", "text/html")
			_, _ = io.WriteString(w, `<html><head><link rel="canonical" href="http://x.example/juniors/autumn"></head><img src="/juniors/gone.jpg?v=0123456789abcdef">`)
		}
		return n == 1
	}
	s := m.walk()
	assert.Equal(t, 2, n)
	assert.Contains(t, read(t, s, live), "juniors-boats")
	require.NoError(t, m.Pages.SetText(m.PageID, "a", m.MarkOf("a"), "Other words."))
	m.goLive()
	_, err := s.Open(s.Files[live])
	assert.ErrorContains(t, err, "the site changed meanwhile")
	// One that never comes to rest is told, and does not go on for ever.
	m.before = func(w http.ResponseWriter, r *http.Request) bool {
		w.WriteHeader(http.StatusInternalServerError)
		return true
	}
	_, err = m.Mirror.Walk(mirror.Target{Base: "https://club.example"}, &m.memory)
	assert.ErrorContains(t, err, "answers 500")
	_, err = m.Mirror.Walk(mirror.Target{Base: "club.example"}, &m.memory)
	assert.ErrorContains(t, err, "invalid address")
}
