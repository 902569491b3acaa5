package web_test

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/album"
	"mivlet/core/banner"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// houseOf lays a house out: so many live pages with eight pictures each, twenty pictures
// on the bench and ten that have arrived. All share one working copy.
func houseOf(t *testing.T, s *datafolder.Folder, pages int) {
	t.Helper()
	now := time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)
	var photo bytes.Buffer
	require.NoError(t, jpeg.Encode(&photo, image.NewGray(image.Rect(0, 0, 1600, 1200)), nil))
	copied, err := s.Files.Put(&photo, "image/jpeg")
	require.NoError(t, err)
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}}
	r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 300, Height: 250, Where: rules.Below, On: []string{rules.OnEvery}, Turn: rules.ByTurns, Empty: rules.ShowNothing}}
	require.NoError(t, s.SaveRules(r, "Ines", "to begin with", now))
	require.NoError(t, s.SavePerson(&store.Person{Name: "Ines", Login: "ines", Keeper: true, CreatedAt: now}))
	known := facts.Facts{MediaType: "image/jpeg", Stored: fit.Size{W: 1600, H: 1200}, Orientation: facts.Upright, Frames: 1, Bytes: 400_000}
	n := 0
	add := func(s store.Records, at store.Station) uint {
		n++
		name := fmt.Sprintf("juniors-boat-number-%d", n)
		sum := sha256.Sum256([]byte(name))
		p := store.Picture{Section: "juniors", OriginalHash: hex.EncodeToString(sum[:]), OriginalName: name + ".jpg", Facts: known, Station: at, PreviewHash: copied, CreatedAt: now, UpdatedAt: now,
			Work: store.Work{Slot: "side", Name: name, Alt: fmt.Sprintf("Boat number %d on the lake", n)}}
		require.NoError(t, s.AddPicture(&p))
		require.NoError(t, s.AddCuts([]store.Cut{{PictureID: p.ID, Key: "old", Density: 1, Hash: copied, MediaType: "image/jpeg"}}, false))
		return p.ID
	}
	require.NoError(t, s.Tx(func(s store.Records) error {
		for range 20 {
			add(s, store.Bench)
		}
		for range 10 {
			add(s, store.Arrivals)
		}
		for i := range pages {
			p := store.Page{Section: "juniors", Slug: fmt.Sprint("page-", i), Version: 1, UpdatedAt: now, Doc: page.Doc{Version: page.Version, Title: fmt.Sprint("Page ", i), Blocks: []page.Block{{ID: "w", Kind: page.Text, Text: "Words, and [a link](/juniors/page-0)."}}}}
			var files []store.Published
			for k := range 8 {
				id := add(s, store.Shelf)
				p.Doc.Blocks = append(p.Doc.Blocks, page.Block{ID: fmt.Sprint("p", k), Kind: page.Picture, Placement: &page.Placement{Picture: id, Slot: "side", Side: page.None}})
				if k == 0 && i == 0 {
					p.Doc.Blocks = append(p.Doc.Blocks, page.Block{ID: "a", Kind: page.Album, Album: &page.AlbumShow{Album: 1, Look: page.Grid}})
				}
				files = append(files, store.Published{Path: fmt.Sprintf("/juniors/%d-%d.jpg", i, k), Hash: copied, MediaType: "image/jpeg", PictureID: id, CutKey: "old"})
			}
			require.NoError(t, s.AddPage(&p))
			files = append(files, store.Published{Path: p.Path(), Hash: copied, MediaType: "text/html"})
			require.NoError(t, s.Publish(&p, files, "print", now))
			require.NoError(t, s.AddLiveVersion(&store.LiveVersion{PageID: p.ID, At: now, Path: p.Path(), Doc: `{"version":2,"title":"x","blocks":[]}`, Files: files}))
		}
		held := store.Album{Section: "juniors", Doc: album.Album{Version: album.Version, Title: "Held", Rule: album.Rule{Tag: "x"}}, UpdatedAt: now}
		for range pages {
			held.Doc = held.Doc.Add(add(s, store.Shelf))
		}
		require.NoError(t, s.AddAlbum(&held))
		for i := range pages {
			b := store.Banner{Section: "juniors", Doc: banner.Doc{Version: banner.Version, Title: fmt.Sprint("Banner ", i), Spot: "foot", Picture: uint(i + 1)}, UpdatedAt: now}
			b.Live = &b.Doc
			require.NoError(t, s.AddBanner(&b))
		}
		return nil
	}))
}

// mostStatements is how many statements a screen or an act may run, however large the house
// is: 25, and two more for the album on the page that is worked on, which is read with the page
// and once more where it is worked out whether visitors see something else.
const mostStatements = 25 + 2

// No screen and no act asks the records more often in a large house than in a small one.
func TestScreensDoNotGrowWithTheHouse(t *testing.T) {
	counted := map[string]map[int]int{} // by screen and size
	sizes := []int{1, 25, 120}
	if testing.Short() {
		sizes = sizes[:2] // enough to look for races
	}
	for _, size := range sizes {
		s, err := datafolder.Open(t.TempDir())
		require.NoError(t, err)
		houseOf(t, s, size)
		h, d := interfaceTo(t, s, s.Sessions())
		srv := httptest.NewServer(h)
		client := newClient(t)
		ask := func(name string, res *http.Response, err error) {
			require.NoError(t, err)
			defer res.Body.Close()
			text, err := io.ReadAll(res.Body)
			require.NoError(t, err)
			require.Less(t, res.StatusCode, 400, "%s: %s", name, text)
		}
		res, err := client.PostForm(srv.URL+"/sign-in/demo", url.Values{"person": {"1"}})
		ask("sign-in", res, err)

		var mu sync.Mutex
		n, seen := 0, []string{}
		count := func(name string, do func() (*http.Response, error)) {
			for range 2 { // the first time works out what the laying out has left open
				mu.Lock()
				n, seen = 0, nil
				mu.Unlock()
				res, err := do()
				ask(name, res, err)
			}
			mu.Lock()
			defer mu.Unlock()
			if counted[name] == nil {
				counted[name] = map[int]int{}
			}
			counted[name][size] = n
			assert.LessOrEqual(t, n, mostStatements, "%s in a house of %d pages:\n%s", name, size, strings.Join(seen, "\n"))
		}
		s.Database().Watch(func(statement string, _ bool) {
			mu.Lock()
			defer mu.Unlock()
			n++
			seen = append(seen, statement[:min(len(statement), 160)])
		})
		for _, screen := range []string{"/banners", "/banners/1", "/rules?part=spots", "/albums", "/files", "/albums/1", "/covers", "/pages/1/cover", "/pages/1/link", "/pages/1/shared", "/arrivals", "/bench/5", "/bench/5/measure?x=0&y=0&w=900&h=700", "/pages", "/pages/1", "/live", "/shelves", "/pictures/5", "/pictures/31", "/bench/31", "/rules", "/trail", "/people", "/people/provider", "/destinations", "/destinations/new", "/running", "/findings", "/former", "/leaving", "/privacy", "/ruler", "/pages/1/insert?after=w"} {
			count(screen, func() (*http.Response, error) { return client.Get(srv.URL + screen) })
		}
		k := 0
		post := func(name, at string, form url.Values) {
			count(name, func() (*http.Response, error) {
				k++
				sent := url.Values{}
				for key, all := range form {
					sent[key] = []string{strings.ReplaceAll(all[0], "%", fmt.Sprint(k))}
				}
				req, err := http.NewRequest(http.MethodPost, srv.URL+at, strings.NewReader(sent.Encode()))
				require.NoError(t, err)
				req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
				req.Header.Set("HX-Request", "true")
				return client.Do(req)
			})
		}
		post("dragging a frame", "/bench/31/frame", url.Values{"x": {"%"}, "y": {"0"}, "w": {"900"}, "h": {"700"}})
		post("a name", "/bench/31/name", url.Values{"name": {"juniors-boat-renamed-%"}})
		post("a veil", "/bench/31/veil", url.Values{"shape": {"rect"}, "style": {"cover"}, "x": {"%"}, "y": {"10"}, "w": {"90"}, "h": {"90"}})
		post("who is seen", "/bench/5/seen", url.Values{"whom": {"number %"}, "state": {"allowed"}})
		post("a new page", "/pages", url.Values{"section": {"juniors"}, "title": {"Fresh %"}, "arrangement": {"empty"}})
		post("a picture on a page", "/pages/1/insert", url.Values{"after": {"w"}, "picture": {"5"}, "slot": {"side"}, "side": {"none"}})
		s.Database().Watch(nil)
		srv.Close()
		d.Jobs.End()
		require.NoError(t, s.Close())
	}
	for name, by := range counted {
		for _, size := range sizes[1:] {
			assert.Equal(t, by[1], by[size], "%s: a house of %d pages", name, size)
		}
	}
}
