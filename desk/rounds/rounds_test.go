package rounds_test

import (
	"context"
	"errors"
	"io"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/survey"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bringin"
	"mivlet/desk/desktest"
	"mivlet/desk/rounds"
	"mivlet/edge/crawl"
	"mivlet/practice"
	"mivlet/practice/window"
	"mivlet/store"
)

// watched is a house with a live page, and what fetches sites for it.
type watched struct {
	*desktest.Fixture
	site  practice.Site
	fetch bringin.Fetch
}

func newWatched(t *testing.T) *watched {
	t.Helper()
	w := &watched{}
	w.Fixture = desktest.FreshWith(t, func(o *desk.Options) {
		o.Fetch = func(ctx context.Context, start *url.URL, into bringin.Into) ([]string, error) {
			return w.fetch(ctx, start, into)
		}
	})
	w.site = practice.Site{Rules: w.Rules}
	require.NoError(t, w.Lists.UseLayout(window.Layout(w.site)))
	w.Mirror.UseSite(w.site.Plain(window.Of{Desk: w.Desk}))
	return w
}

// says writes words on the page, and publishes it.
func (w *watched) says(text string) {
	w.T.Helper()
	var mark, block string
	for _, b := range w.PageView().Blocks {
		if b.Kind == page.Text {
			block, mark = b.ID, b.Mark()
		}
	}
	require.NotEmpty(w.T, block)
	require.NoError(w.T, w.Pages.SetText(w.PageID, block, mark, text))
	_, err := w.Publish.Publish(context.Background(), w.PageID, w.PageView().Seen, "it is a test", window.Layout(w.site))
	require.NoError(w.T, err)
}

// round goes a round and waits for its end.
func (w *watched) round(place uint) {
	w.T.Helper()
	job, err := w.Rounds.Go(place)
	require.NoError(w.T, err)
	require.Eventually(w.T, func() bool { return job.Progress().Ended }, time.Minute, time.Millisecond)
	assert.Empty(w.T, job.Progress().Failed)
}

func (w *watched) place(i int) rounds.Place {
	w.T.Helper()
	v, err := w.Rounds.View()
	require.NoError(w.T, err)
	require.Greater(w.T, len(v.Places), i)
	return v.Places[i]
}

func codes(things []rounds.Thing) (all []string) {
	for _, t := range things {
		all = append(all, string(t.Finding.Code))
	}
	return all
}

// What is wrong with the live site is told until it is mended, or until somebody decides that it stays; what is found
// again is not told again.
func TestRounds(t *testing.T) {
	t.Parallel()
	w := newWatched(t)
	assert.Nil(t, w.place(0).Last)
	w.says(`The [camp of last year](/juniors/camp-of-last-year) was at the lake.`)
	w.round(0)
	p := w.place(0)
	require.NotNil(t, p.Last)
	assert.Empty(t, p.Last.Fault)
	assert.Positive(t, p.Last.Sum.Pages)
	require.Equal(t, []string{"broken-link"}, codes(p.Open), "%+v", p.Open)
	one := p.Open[0]
	assert.Equal(t, []any{w.PageID, "juniors", true}, []any{one.Page, one.Section, one.MayDecide})
	assert.EqualValues(t, 1, w.counted())

	// It stays, by decision, and is not told again; another one is new.
	require.NoError(t, w.Rounds.Leave([]uint{one.ID}))
	assert.Zero(t, w.counted())
	w.says(`The [camp of last year](/juniors/camp-of-last-year) was at the lake, and [the one before](/juniors/camp-before), too.`)
	w.SetTime(w.Time().Add(time.Hour))
	w.round(0)
	p = w.place(0)
	require.Len(t, p.Open, 1)
	assert.Equal(t, "/juniors/camp-before", strings.TrimSuffix(p.Open[0].Finding.Address, "/"), "as it was written")
	require.Len(t, p.Left, 1)
	assert.Equal(t, one.ID, p.Left[0].ID)
	assert.True(t, p.Left[0].Since.Equal(one.Since), "it is as old as it was")
	assert.True(t, p.Open[0].Since.After(one.Since))
	assert.Len(t, p.Before, 2)

	// That is taken back, and what is mended goes.
	require.NoError(t, w.Rounds.TakeUp([]uint{one.ID}))
	assert.EqualValues(t, 2, w.counted())
	w.says(`The camp was at the lake.`)
	w.round(0)
	assert.Empty(t, w.place(0).Open)
	assert.Zero(t, w.counted())
	var trail []string
	all, err := w.Kept.Trail(store.TrailFilter{Most: 50})
	require.NoError(t, err)
	for _, l := range all {
		trail = append(trail, l.What)
	}
	assert.Contains(t, strings.Join(trail, "\n"), "Left 1 finding of what is live as it is")
}

func (w *watched) counted() int64 {
	w.T.Helper()
	c, err := w.Kept.Counts(nil)
	require.NoError(w.T, err)
	return c.Findings
}

// Whoever publishes for a section decides about its pages; what is on no page of the house, keepers do.
func TestWhoDecides(t *testing.T) {
	t.Parallel()
	w := newWatched(t)
	in := func(section string, role access.Role) *desk.Desk {
		return w.As(access.PersonOf(store.Person{ID: 9, Name: "Runa", Login: "runa", Roles: []store.Role{{Section: section, Role: string(role)}}}))
	}
	r := store.Round{At: w.Time()}
	require.NoError(t, w.Kept.Tx(func(s store.Records) error {
		return s.AddRound(&r, []store.Found{{Mark: "a", Section: "juniors", Since: w.Time(), Finding: survey.Finding{Code: survey.BrokenLink}}, {Mark: "b", Since: w.Time(), Finding: survey.Finding{Code: survey.Damaged}}})
	}))
	p := w.place(0)
	juniors, other := p.Open[0].ID, p.Open[1].ID
	refused := func(err error, kind access.Kind) {
		t.Helper()
		r, ok := desktest.AsRefusal(err)
		require.True(t, ok, "%v", err)
		assert.Equal(t, kind, r.Kind)
	}
	refused(in("juniors", access.Contributor).Rounds.Leave([]uint{juniors}), access.Forbidden)
	refused(in("touring", access.Publisher).Rounds.Leave([]uint{juniors}), access.Forbidden)
	refused(in("juniors", access.Publisher).Rounds.Leave([]uint{juniors, other}), access.Forbidden)
	assert.Len(t, w.place(0).Open, 2, "all of it, or nothing")
	require.NoError(t, in("juniors", access.Publisher).Rounds.Leave([]uint{juniors}))
	assert.Equal(t, "Runa", w.place(0).Left[0].LeftBy)
	require.NoError(t, w.Rounds.Leave([]uint{other}))
	refused(w.Rounds.Leave([]uint{999}), access.Missing)
	refused(w.Rounds.Leave(nil), access.Bad)
	v, err := in("juniors", access.Contributor).Rounds.View()
	require.NoError(t, err)
	assert.Equal(t, []bool{false, false}, []bool{v.MayGo, v.Places[0].Left[0].MayDecide})
}

// Other places are looked through as visitors reach them, over the net, with what others put there. What cannot be
// looked through keeps what was known, and is told.
func TestRoundsElsewhere(t *testing.T) {
	t.Parallel()
	w := newWatched(t)
	files := fstest.MapFS{
		"index.html":   {Data: []byte(`<!doctype html><html lang="en"><title>Club</title><p><a href="old.html">Old</a></p>`)},
		"old.html":     {Data: []byte(`<!doctype html><html lang="en"><title>Old</title><p><img src="IMG_2041.jpg"><a href="gone.html">Gone</a></p>`)},
		"IMG_2041.jpg": {Data: desktest.Photo(900, 600, 3)},
	}
	srv := httptest.NewServer(http.FileServer(http.FS(files)))
	t.Cleanup(srv.Close)
	w.fetch = func(ctx context.Context, start *url.URL, into bringin.Into) ([]string, error) {
		_, err := crawl.Site(ctx, start, crawl.Options{Agent: "Mivlet/test", Keep: into.Keep, Progress: into.Progress})
		return nil, err
	}
	now := w.Time()
	to := store.Destination{Title: "The club's server", Kind: "folder", Base: srv.URL, SentAt: &now, CreatedAt: now}
	require.NoError(t, w.Kept.Tx(func(s store.Records) error { return s.AddDestination(&to) }))
	w.round(to.ID)
	p := w.place(1)
	assert.Equal(t, []any{to.ID, "The club's server", srv.URL}, []any{p.ID, p.Title, p.Address})
	assert.ElementsMatch(t, []string{"alt-absent", "broken-link", "camera-name", "not-sized"}, codes(p.Open))
	assert.Empty(t, w.place(0).Open)

	// Paths that lead out of the site are written nowhere else.
	w.fetch = func(_ context.Context, _ *url.URL, into bringin.Into) ([]string, error) {
		require.NoError(t, into.Keep("index.html", files["index.html"].Data))
		require.NoError(t, into.Keep("index.html/below.html", []byte("a file lies where its folder would")))
		require.NoError(t, into.Keep("../escaped.html", []byte("out")), "it is left out")
		return nil, nil
	}
	w.round(to.ID)
	assert.ElementsMatch(t, []string{"broken-link"}, codes(w.place(1).Open))
	assert.NoFileExists(t, filepath.Join(os.TempDir(), "escaped.html"))

	w.fetch = func(context.Context, *url.URL, bringin.Into) ([]string, error) {
		return nil, errors.New("nobody answers there")
	}
	w.round(to.ID)
	p = w.place(1)
	assert.Contains(t, p.Last.Fault, "nobody answers there")
	assert.Len(t, p.Open, 1, "what was known stays")
	assert.Len(t, p.Before, 2, "it is no part of how the site fared")

	// One that is paused is not gone to, and what is known of it stays in sight.
	require.NoError(t, w.Destinations.Pause(to.ID, true))
	w.SetTime(w.Time().AddDate(0, 1, 0))
	require.NoError(t, w.Rounds.GoDue(t.Context()))
	assert.Len(t, w.place(1).Open, 1)
	assert.Equal(t, p.Last.ID, w.place(1).Last.ID)

	require.NoError(t, w.Destinations.Remove(to.ID))
	v, err := w.Rounds.View()
	require.NoError(t, err)
	assert.Len(t, v.Places, 1)
	assert.Zero(t, w.counted())
}

// Rounds are gone by themselves: the house's site day by day, others week by week, and what failed before long.
func TestRoundsAreDue(t *testing.T) {
	t.Parallel()
	w := newWatched(t)
	asked := 0
	w.fetch = func(_ context.Context, _ *url.URL, into bringin.Into) ([]string, error) {
		if asked++; asked == 1 {
			return nil, errors.New("away")
		}
		return nil, into.Keep("index.html", []byte("<title>Club</title>"))
	}
	gone := func() (own, elsewhere int) {
		t.Helper()
		before := asked
		require.NoError(t, w.Rounds.GoDue(t.Context()))
		all, err := w.Kept.Rounds(0)
		require.NoError(t, err)
		return len(all), asked - before
	}
	own, _ := gone()
	assert.Zero(t, own, "nothing is live yet")
	w.says("The camp was at the lake.")
	now := w.Time()
	require.NoError(t, w.Kept.Tx(func(s store.Records) error {
		return s.AddDestination(&store.Destination{Title: "There", Kind: "folder", Base: "http://there.example", SentAt: &now, CreatedAt: now})
	}))
	own, elsewhere := gone()
	assert.Equal(t, []int{1, 1}, []int{own, elsewhere})
	for _, c := range []struct {
		later          time.Duration
		own, elsewhere int
	}{{5 * time.Hour, 1, 0}, {2 * time.Hour, 1, 1}, {16 * time.Hour, 1, 0}, {2 * time.Hour, 2, 0}, {5 * 24 * time.Hour, 3, 0}, {2 * 24 * time.Hour, 4, 1}} {
		w.SetTime(w.Time().Add(c.later))
		own, elsewhere = gone()
		assert.Equal(t, []int{c.own, c.elsewhere}, []int{own, elsewhere}, "after %v more", c.later)
	}
}

// The tree of a live site is a file system as Go's own checks understand it.
func TestTheLiveSiteIsAFileSystem(t *testing.T) {
	t.Parallel()
	w := newWatched(t)
	w.says("The camp was at the lake.")
	files, err := w.Rounds.LiveFiles()
	require.NoError(t, err)
	var expected []string
	require.NoError(t, fs.WalkDir(files, ".", func(at string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			expected = append(expected, at)
			in, err := files.Open(at)
			require.NoError(t, err)
			data, err := io.ReadAll(in)
			require.NoError(t, err, at)
			info, err := d.Info()
			require.NoError(t, err)
			assert.Len(t, data, int(info.Size()), at)
			require.NoError(t, in.Close())
		}
		return err
	}))
	require.NoError(t, fstest.TestFS(files, expected...))
}
