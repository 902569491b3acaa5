package destinations_test

import (
	"context"
	"errors"
	"io"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"os"
	"path"
	"path/filepath"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk"
	"mivlet/desk/desktest"
	"mivlet/desk/destinations"
	"mivlet/edge/folder"
	"mivlet/practice"
	"mivlet/practice/window"
	"mivlet/store"
)

// abroad is a house with a destination: a folder that a server of Go's own serves.
type abroad struct {
	*desktest.Fixture
	folder string
	server *httptest.Server
	id     uint
	site   practice.Site
	lists  bool                                        // the place tells all its stamps at once
	place  func(destinations.Place) destinations.Place // around the folder, where a test wants to see or to disturb
}

func newAbroad(t *testing.T, set func(*destinations.Change)) *abroad {
	t.Helper()
	a := &abroad{folder: t.TempDir(), place: func(p destinations.Place) destinations.Place { return p }}
	a.Fixture = desktest.FreshWith(t, func(o *desk.Options) {
		o.Places = map[string]destinations.OpenPlace{destinations.InFolder: func(_ context.Context, d store.Destination, _ destinations.Secret) (destinations.Place, error) {
			f, err := folder.Open(d.Folder)
			if err != nil {
				return nil, err
			}
			if a.lists {
				return listing{a.place(f), a}, nil
			}
			return a.place(f), nil
		}}
	})
	a.site = practice.Site{Rules: a.Rules}
	require.NoError(t, a.Lists.UseLayout(window.Layout(a.site)))
	a.Mirror.UseSite(a.site.Plain(window.Of{Desk: a.Desk}))
	a.server = httptest.NewServer(http.StripPrefix("/club", http.FileServer(http.Dir(a.folder))))
	t.Cleanup(a.server.Close)
	c := destinations.Change{Title: "The club's server", Folder: a.folder, Base: a.server.URL + "/club", GraceHours: 48}
	if set != nil {
		set(&c)
	}
	var err error
	a.id, err = a.Destinations.Save(c)
	require.NoError(t, err)
	require.NoError(t, a.Destinations.Pause(a.id, false))
	return a
}

// goLive publishes a page as the site lays it out.
func (a *abroad) goLive(page uint) {
	a.T.Helper()
	v, err := a.Pages.Page(page)
	require.NoError(a.T, err)
	report, err := a.Publish.Publish(context.Background(), page, v.Seen, "it is a test", window.Layout(a.site))
	require.NoError(a.T, err)
	require.NotEmpty(a.T, report.Checks)
}

func (a *abroad) send() destinations.Work {
	a.T.Helper()
	w, err := a.Destinations.Send(context.Background(), a.id)
	require.NoError(a.T, err)
	return w
}

// files are the paths of all files in the folder.
func (a *abroad) files() []string {
	a.T.Helper()
	var all []string
	require.NoError(a.T, filepath.WalkDir(a.folder, func(at string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			rel, _ := filepath.Rel(a.folder, at)
			all = append(all, filepath.ToSlash(rel))
		}
		if errors.Is(err, fs.ErrNotExist) {
			return nil // it has gone while this looked
		}
		return err
	}))
	return all
}

func (a *abroad) read(at string) string {
	a.T.Helper()
	data, err := os.ReadFile(filepath.Join(a.folder, at))
	require.NoError(a.T, err)
	return string(data)
}

func (a *abroad) write(at, text string) {
	a.T.Helper()
	require.NoError(a.T, os.MkdirAll(filepath.Join(a.folder, path.Dir(at)), 0o755))
	require.NoError(a.T, os.WriteFile(filepath.Join(a.folder, at), []byte(text), 0o644))
}

// shown are the addresses of all that the browser fetches along with a document.
func shown(doc *goquery.Document) []string {
	var all []string
	doc.Find("[src], [poster], link[rel=stylesheet], [srcset]").Each(func(_ int, s *goquery.Selection) {
		for _, name := range []string{"src", "poster", "href"} {
			if at, ok := s.Attr(name); ok {
				all = append(all, at)
			}
		}
		for one := range strings.SplitSeq(s.AttrOr("srcset", ""), ",") {
			if at, _, _ := strings.Cut(strings.TrimSpace(one), " "); at != "" {
				all = append(all, at)
			}
		}
	})
	return all
}

// whole asserts that no page in the folder shows what is not there, whatever else is.
func (a *abroad) whole(when string) {
	a.T.Helper()
	for _, file := range a.files() {
		if path.Ext(file) != ".html" {
			continue
		}
		doc, err := goquery.NewDocumentFromReader(strings.NewReader(a.read(file)))
		require.NoError(a.T, err)
		for _, at := range shown(doc) {
			to := strings.TrimPrefix(at, "/club/")
			if to == at {
				to = path.Join(path.Dir(file), at)
			}
			_, err := os.Stat(filepath.Join(a.folder, to))
			assert.NoError(a.T, err, "%s: %s shows %s", when, file, at)
		}
	}
}

// listing is a folder that tells all its stamps at once, as object storage does.
type listing struct {
	destinations.Place
	of *abroad
}

func (l listing) Stamps(ctx context.Context) (map[string]string, error) {
	all := map[string]string{}
	for _, at := range l.of.files() {
		stamp, err := l.Stamp(ctx, at)
		if err != nil {
			return nil, err
		}
		all[at] = stamp
	}
	return all, nil
}

// bothWays runs a test with a place that is asked for each stamp, and with one that tells all at once.
func bothWays(t *testing.T, test func(t *testing.T, a *abroad)) {
	t.Helper()
	for name, lists := range map[string]bool{"one by one": false, "all at once": true} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			a := newAbroad(t, nil)
			a.lists = lists
			test(t, a)
		})
	}
}

// watched is a folder of which a test sees every change.
type watched struct {
	destinations.Place
	before func(act, at string)
	after  func(act, at string)
}

func (w watched) Put(ctx context.Context, at string, data io.Reader) (string, error) {
	w.before("put", at)
	stamp, err := w.Place.Put(ctx, at, data)
	w.after("put", at)
	return stamp, err
}

func (w watched) Remove(ctx context.Context, at string) error {
	w.before("remove", at)
	err := w.Place.Remove(ctx, at)
	w.after("remove", at)
	return err
}

// watch lets a test see what is done in the folder from now on.
func (a *abroad) watch(before, after func(act, at string)) {
	a.place = func(p destinations.Place) destinations.Place { return watched{p, before, after} }
}

// nothing does nothing.
func nothing(string, string) {}
