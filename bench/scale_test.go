package bench

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"os"
	"strconv"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/people"
	"mivlet/edge/visitor"
	"mivlet/practice"
	"mivlet/practice/window"
	"mivlet/store"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// What one house does in a folder, and in PostgreSQL with object storage: each is run alone, and with scripts/cluster.

// laid opens a house in which nothing is, where the surroundings say.
func laid(b *testing.B) (*datafolder.Folder, string) {
	b.Helper()
	dir := b.TempDir()
	desktest.Lay(b, dir)
	s, err := datafolder.Open(dir)
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { _ = s.Close() })
	return s, dir
}

// rowsOf are how many pictures a house has for searching.
func rowsOf(b *testing.B) int {
	n, err := strconv.Atoi(os.Getenv("MIVLET_PICTURES"))
	if err != nil {
		n = 100_000
	}
	return n
}

// many fills a house with generated rows, by the database's own means.
func many(b *testing.B, s *datafolder.Folder, dir string, n int) {
	b.Helper()
	at, err := datafolder.ReadStorage(dir)
	if err != nil {
		b.Fatal(err)
	}
	exec := func(statement string, args ...any) {
		b.Helper()
		if err := s.Database().Exec(statement, args...); err != nil {
			b.Fatal(err)
		}
	}
	words := `(CASE i % 7 WHEN 0 THEN 'boat' WHEN 1 THEN 'lake' WHEN 2 THEN 'jetty' WHEN 3 THEN 'paddle' WHEN 4 THEN 'mist' WHEN 5 THEN 'reeds' ELSE 'regatta' END)`
	others := `(CASE (i / 7) % 5 WHEN 0 THEN 'autumn' WHEN 1 THEN 'harbour' WHEN 2 THEN 'bucket' WHEN 3 THEN 'juniors' ELSE 'shore' END)`
	series := fmt.Sprintf("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < %d)", n)
	index := `INSERT INTO pictures_fts (rowid, name, words, credit, tags, folder, former) SELECT id, name, replace(name, '-', ' '), '', '', 'house', '' FROM pictures`
	if at.Records.Postgres != "" {
		series = fmt.Sprintf("WITH n(i) AS (SELECT generate_series(1, %d))", n)
		index = `INSERT INTO picture_words (picture_id, words) SELECT id, setweight(to_tsvector('simple', replace(name, '-', ' ')), 'A') FROM pictures`
	}
	moment := "'2026-11-02 12:00:00+00:00'"
	exec(`INSERT INTO pictures (id, section, original_hash, original_name, facts, station, step, work, name, created_at, updated_at, folder, person, shelved, bytes, described)
		` + series + ` SELECT i, 'house', 'o' || i, 'DSC_' || i || '.JPG', '{"bytes":1000000}', 'shelf', 0, '{}', ` + words + ` || '-' || ` + others + ` || '-' || i, ` + moment + `, ` + moment + `, CAST(2006 + i % 20 AS TEXT), 'Ines Varrow', TRUE, 1000000 + i, TRUE FROM n`)
	exec(index)
	if at.Records.Postgres != "" {
		exec("ANALYZE")
	}
}

func BenchmarkSearchInMany(b *testing.B) {
	s, dir := laid(b)
	many(b, s, dir, rowsOf(b))
	for name, q := range map[string]store.ShelfQuery{
		"one name":         {Text: "regatta shore 4711", Most: 60},
		"two words":        {Text: "regatta mist", Most: 60},
		"two words, found": {Text: "regatta juniors", Most: 60},
		"a beginning":      {Text: "reg", Most: 60},
		"first screen":     {Most: 60},
		"a folder":         {Section: "house", Folder: "2019", Most: 60},
		"heaviest":         {Sort: store.ByHeavier, Most: 60},
	} {
		q.Now = time.Now()
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, _, err := s.Shelf(q); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// BenchmarkPicturesThrough takes photos in and makes the cuts of one slot, as they come from one camera after the other.
func BenchmarkPicturesThrough(b *testing.B) {
	s, _ := laid(b)
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}}
	r.Hiding.LeaveFace = true
	if err := s.SaveRules(r, "", "to begin with", time.Now()); err != nil {
		b.Fatal(err)
	}
	d, err := desk.New(&s.Store, desk.Options{})
	if err != nil {
		b.Fatal(err)
	}
	photo, err := demo.Picture("DSC_0430.JPG")
	if err != nil {
		b.Fatal(err)
	}
	n := 0
	for b.Loop() {
		n++
		own := append(bytes.Clone(photo), fmt.Sprint(n)...) // another content
		a, err := d.Pictures.Arrive(fmt.Sprintf("DSC_%04d.JPG", n), bytes.NewReader(own), "juniors")
		if err != nil {
			b.Fatal(err)
		}
		if err := d.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "juniors"}); err != nil {
			b.Fatal(err)
		}
		if _, err := d.Cuts.MakeCuts(a.ID, "column"); err != nil {
			b.Fatal(err)
		}
	}
	b.ReportMetric(float64(n)/b.Elapsed().Minutes(), "pictures/min")
}

// BenchmarkScreensOfOne asks for the screen of a page, by eight people at once.
func BenchmarkScreensOfOne(b *testing.B) {
	s, _ := laid(b)
	if _, err := demo.Fill(&s.Store, time.Now()); err != nil {
		b.Fatal(err)
	}
	d, err := desk.New(&s.Store, desk.Options{Demo: true, SiteURL: "http://127.0.0.1"})
	if err != nil {
		b.Fatal(err)
	}
	site := practice.Site{Rules: d.Rules}
	screens := httptest.NewServer(web.Handler(d, web.Options{Layout: window.Layout(site), ContentCSS: site.ContentCSS, Sessions: s.Sessions()}))
	defer screens.Close()
	jar, err := cookiejar.New(nil)
	if err != nil {
		b.Fatal(err)
	}
	c := &http.Client{Jar: jar, Transport: &http.Transport{MaxIdleConnsPerHost: 16}}
	res, err := c.PostForm(screens.URL+"/sign-in/demo", url.Values{"person": {"1"}})
	if err != nil {
		b.Fatal(err)
	}
	res.Body.Close()
	for _, path := range []string{"/pages/2", "/shelves", "/live"} {
		b.Run(path[1:], func(b *testing.B) {
			var left atomic.Int64
			left.Store(int64(b.N))
			b.ResetTimer()
			var all sync.WaitGroup
			for range 8 {
				all.Go(func() {
					for left.Add(-1) >= 0 {
						res, err := c.Get(screens.URL + path)
						if err != nil || res.StatusCode != http.StatusOK {
							b.Error(err, res)
							return
						}
						res.Body.Close()
					}
				})
			}
			all.Wait()
			b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "screens/s")
		})
	}
}

// BenchmarkPublishingOne publishes a page whose words have changed.
func BenchmarkPublishingOne(b *testing.B) {
	s, _ := laid(b)
	if err := s.SaveRules(rules.Default(), "", "to begin with", time.Now()); err != nil {
		b.Fatal(err)
	}
	var site http.Handler
	visited := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) { site.ServeHTTP(w, r) }))
	defer visited.Close()
	d, err := desk.New(&s.Store, desk.Options{SiteURL: visited.URL, Visitor: visitor.New()})
	if err != nil {
		b.Fatal(err)
	}
	practised := practice.Site{Rules: d.Rules}
	site = practised.Handler(window.Of{Desk: d})
	layout := window.Layout(practised)
	if _, err := d.People.SaveAccount(people.Account{Name: "Ines", Login: "ines", Password: "four words in a row", Keeper: true}); err != nil {
		b.Fatal(err)
	}
	p := store.Page{Section: "house", Slug: "autumn", Version: 1, UpdatedAt: time.Now(), Doc: page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{{ID: "a", Kind: page.Text, Text: "One."}}}}
	if err := s.AddPage(&p); err != nil {
		b.Fatal(err)
	}
	for n := 0; b.Loop(); n++ {
		v, err := d.Pages.Page(p.ID)
		if err == nil {
			err = d.Pages.RenamePage(p.ID, fmt.Sprint("Autumn ", n), "autumn")
		}
		if err == nil {
			v, err = d.Pages.Page(p.ID)
		}
		if err == nil {
			_, err = d.Publish.Publish(context.Background(), p.ID, v.Seen, "", layout)
		}
		if err != nil {
			b.Fatal(err)
		}
	}
}

// BenchmarkScreensAt asks for screens at $MIVLET_AT, as scripts/cluster --three says it, by eight people who each signed in.
func BenchmarkScreensAt(b *testing.B) {
	at := os.Getenv("MIVLET_AT")
	if at == "" {
		b.Skip("it is run by scripts/cluster --three")
	}
	var clients []*http.Client
	for range 8 {
		jar, err := cookiejar.New(nil)
		if err != nil {
			b.Fatal(err)
		}
		c := &http.Client{Jar: jar, Transport: &http.Transport{MaxIdleConnsPerHost: 4}}
		res, err := c.PostForm(at+"/sign-in/demo", url.Values{"person": {"1"}})
		if err != nil {
			b.Fatal(err)
		}
		res.Body.Close()
		clients = append(clients, c)
	}
	for _, path := range []string{"/pages/2", "/shelves", "/live"} {
		b.Run(path[1:], func(b *testing.B) {
			var left atomic.Int64
			left.Store(int64(b.N))
			var all sync.WaitGroup
			for _, c := range clients {
				all.Go(func() {
					for left.Add(-1) >= 0 {
						res, err := c.Get(at + path)
						if err != nil || res.StatusCode != http.StatusOK {
							b.Error(err, res)
							return
						}
						res.Body.Close()
					}
				})
			}
			all.Wait()
			b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "screens/s")
		})
	}
}
