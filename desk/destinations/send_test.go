package destinations_test

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"image"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/rules"
	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/destinations"
	"mivlet/desk/withdraw"
	"mivlet/practice/window"
	"mivlet/store"
)

func sumOf(data []byte) string {
	s := sha256.Sum256(data)
	return hex.EncodeToString(s[:])
}

// fetch returns what the destination's server answers with.
func fetch(t *testing.T, at string) []byte {
	t.Helper()
	res, err := http.Get(at)
	require.NoError(t, err)
	defer res.Body.Close()
	require.Equal(t, http.StatusOK, res.StatusCode, at)
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return data
}

// A browser that goes through what was sent finds every picture, style and page, however links are
// written, and the pictures are those of the built-in site, byte for byte.
func TestAllOfASiteIsSent(t *testing.T) {
	t.Parallel()
	for _, relative := range []bool{false, true} {
		a := newAbroad(t, func(c *destinations.Change) { c.Relative = relative })
		a.Place(a.Ready("juniors-boats", 1))
		a.goLive(a.PageID)
		work := a.send()
		assert.Empty(t, work.Theirs)
		assert.Empty(t, work.Broken)
		home, err := url.Parse(a.server.URL + "/club/")
		require.NoError(t, err)
		todo, seen, pictures := []string{home.String()}, map[string]bool{}, 0
		for len(todo) > 0 {
			at := todo[0]
			todo = todo[1:]
			if seen[at] {
				continue
			}
			seen[at] = true
			data := fetch(t, at)
			if !strings.HasSuffix(at, "/") {
				if strings.HasSuffix(at, ".jpg") {
					pictures++
					assert.True(t, slices.ContainsFunc(a.FilesLive(), func(f store.Published) bool { return f.Hash == sumOf(data) }), "%s went live", at)
				}
				continue
			}
			here, err := url.Parse(at)
			require.NoError(t, err)
			doc, err := goquery.NewDocumentFromReader(strings.NewReader(string(data)))
			require.NoError(t, err)
			assert.NotContains(t, string(data), a.Desk.Site, "nothing leads back to the built-in site")
			assert.NotContains(t, string(data), "practice site")
			links := shown(doc)
			doc.Find("a[href], link[rel=canonical], meta[property='og:image'], meta[property='og:url']").Each(func(_ int, s *goquery.Selection) {
				links = append(links, s.AttrOr("href", "")+s.AttrOr("content", ""))
			})
			for _, l := range links {
				to, err := here.Parse(l)
				require.NoError(t, err)
				if to.Fragment = ""; to.Host == home.Host {
					assert.True(t, strings.HasPrefix(to.Path, "/club/"), "%s leads to %s", at, l)
					todo = append(todo, to.String())
				}
			}
		}
		assert.Greater(t, pictures, 3)
		assert.True(t, seen[home.String()+"juniors/autumn/"])
		v, err := a.Destinations.Of(a.id)
		require.NoError(t, err)
		assert.Empty(t, v.Failed)
		assert.False(t, v.Due)
		require.NotNil(t, v.Saw)
		assert.Empty(t, v.Saw.Wrong)
		assert.Equal(t, len(a.files())-1, v.Saw.Looked, "all but the page that stands for nothing")
	}
}

// Only what changed is sent; and at no moment does a page show what is not there.
func TestOnlyWhatChangedIsSent(t *testing.T) {
	t.Parallel()
	a := newAbroad(t, nil)
	a.Place(a.Ready("juniors-boats", 1))
	a.goLive(a.PageID)
	var acts []string
	a.watch(nothing, func(act, at string) {
		acts = append(acts, act+" "+at)
		a.whole(act + " " + at)
	})
	a.send()
	require.Greater(t, len(acts), 8)
	firstPage := slices.IndexFunc(acts, func(s string) bool { return strings.HasSuffix(s, ".html") })
	for _, late := range acts[firstPage:] {
		assert.True(t, strings.HasSuffix(late, ".html"), "%s is sent after a page", late)
	}
	assert.Equal(t, "put index.html", acts[len(acts)-1])

	acts = nil
	work := a.send()
	assert.True(t, work.Idle())
	assert.Empty(t, acts)

	require.NoError(t, a.Pages.SetText(a.PageID, "a", a.MarkOf("a"), "One, and more."))
	a.goLive(a.PageID)
	a.send()
	assert.Equal(t, []string{"put juniors/autumn/index.html"}, acts)
}

// What somebody else put there or changed is noticed, and stays until a keeper says otherwise.
func TestWhatIsTheirsIsNotOverwritten(t *testing.T) {
	t.Parallel()
	bothWays(t, func(t *testing.T, a *abroad) {
		a.write("juniors/autumn/index.html", "ours since 1998")
		a.goLive(a.PageID)
		before, err := a.Destinations.DryRun(context.Background(), a.id)
		require.NoError(t, err)
		assert.Equal(t, []string{"juniors/autumn/index.html"}, before.Theirs)
		assert.Len(t, a.files(), 1, "a dry run changes nothing")
		work := a.send()
		assert.Equal(t, []string{"juniors/autumn/index.html"}, work.Theirs)
		assert.Equal(t, "ours since 1998", a.read("juniors/autumn/index.html"))
		assert.Contains(t, a.files(), "index.html", "the rest is sent")

		desktest.Refusal(t, a.Destinations.Overwrite(a.id, []string{"index.html"}), access.Bad, "None of these files")
		require.NoError(t, a.Destinations.Overwrite(a.id, work.Theirs))
		a.write("juniors/autumn/index.html", "ours since 1998, and today") // after the keeper looked
		assert.Equal(t, work.Theirs, a.send().Theirs)
		require.NoError(t, a.Destinations.Overwrite(a.id, work.Theirs))
		assert.Empty(t, a.send().Theirs)
		assert.Contains(t, a.read("juniors/autumn/index.html"), "One.")

		// What was sent and is changed is found when it is looked at, though nothing else changed.
		a.write("juniors/autumn/index.html", "spoiled")
		assert.Equal(t, work.Theirs, a.send().Theirs)
		assert.Equal(t, "spoiled", a.read("juniors/autumn/index.html"))
		// What is the same again, is ours again; what is missing comes back.
		require.NoError(t, a.Destinations.Overwrite(a.id, work.Theirs))
		a.send()
		require.NoError(t, os.Remove(filepath.Join(a.folder, "index.html")))
		assert.Equal(t, 1, a.send().Missing)
		assert.Contains(t, a.files(), "index.html")

		// A picture that somebody changed holds the pages back that would show it.
		a.Place(a.Ready("juniors-boats", 1))
		a.goLive(a.PageID)
		work, err = a.Destinations.DryRun(context.Background(), a.id)
		require.NoError(t, err)
		a.write(work.Send[0].Path, "not a picture")
		_, err = a.Destinations.Send(context.Background(), a.id)
		desktest.Refusal(t, err, access.Clash, "Somebody else changed pictures")
		assert.NotContains(t, a.read("juniors/autumn/index.html"), "<img")
	})
}

// Sending that is broken off at any moment goes on where it was: what was sent is not sent again,
// and no page ever shows what is not there.
func TestSendingGoesOn(t *testing.T) {
	t.Parallel()
	a := newAbroad(t, nil)
	a.Place(a.Ready("juniors-boats", 1))
	a.goLive(a.PageID)
	puts := map[string]int{}
	for n := 0; ; n++ {
		require.Less(t, n, 100)
		left := 1
		ctx, stop := context.WithCancel(context.Background())
		a.watch(func(act, at string) {
			if left--; left < 0 && n%2 == 0 {
				panic("the power fails")
			} else if left < 0 {
				stop()
			}
			puts[at]++
		}, nothing)
		var err error
		func() {
			defer func() {
				if recover() != nil {
					err = errors.New("the power failed")
				}
			}()
			_, err = a.Destinations.Send(ctx, a.id)
		}()
		stop()
		a.whole("broken off")
		if err == nil {
			break
		}
	}
	for at, n := range puts {
		assert.LessOrEqual(t, n, 2, at) // once, and once where it was stopped within it
	}
	a.place = func(p destinations.Place) destinations.Place { return p }
	assert.True(t, a.send().Idle())
	assert.Empty(t, a.send().Theirs)
	for _, f := range a.files() {
		assert.False(t, strings.HasPrefix(f, ".mivlet"), f)
	}
}

// What must not stay goes at once: pages that were taken off, pictures that are shown otherwise.
// What only browsers may still ask for stays for its time.
func TestWhatMustGoGoes(t *testing.T) {
	t.Parallel()
	a := newAbroad(t, nil)
	picture := a.Ready("juniors-boats", 1)
	a.Place(picture)
	a.goLive(a.PageID)
	a.send()
	jpgs := func() (all []string) {
		for _, f := range a.files() {
			if strings.HasSuffix(f, ".jpg") {
				all = append(all, f)
			}
		}
		return all
	}
	before := jpgs()
	require.NotEmpty(t, before)

	// Framed otherwise: what the old frame showed may be why.
	require.NoError(t, a.Bench.SetFrame(picture, image.Rect(100, 100, 1300, 800), facts.Upright))
	a.goLive(a.PageID)
	work := a.send()
	for _, f := range before {
		assert.NotContains(t, a.files(), f)
	}
	assert.Empty(t, work.Waiting)

	// Off the air.
	require.NoError(t, a.Withdraw.Withdraw(context.Background(), picture))
	a.send()
	assert.Empty(t, jpgs())

	// A style of before stays for its time, as pages that browsers keep may want it.
	a.UnderRules(func(r *rules.Rules) { r.Page.Cap += 20 })
	a.goLive(a.PageID)
	assert.NotEmpty(t, a.send().Waiting)
	styles := func() (n int) {
		for _, f := range a.files() {
			if strings.HasPrefix(f, "site-") {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 2, styles())
	a.SetTime(a.Time().Add(49 * time.Hour))
	a.send()
	assert.Equal(t, 1, styles())

	// A page.
	require.NoError(t, a.Publish.TakePageOff(a.PageID))
	a.send()
	assert.NotContains(t, a.files(), "juniors/autumn/index.html")
	_, err := os.Stat(filepath.Join(a.folder, "juniors", "autumn"))
	assert.ErrorIs(t, err, os.ErrNotExist, "no empty folder stays")
}

// What is erased goes from destinations, too, with its names in what is known of them; the receipt
// says where it was.
func TestWhatIsErasedGoesEverywhere(t *testing.T) {
	t.Parallel()
	a := newAbroad(t, nil)
	picture := a.Ready("juniors-secret-name", 1)
	a.Place(picture)
	a.goLive(a.PageID)
	a.send()
	require.Contains(t, strings.Join(a.files(), "\n"), "juniors-secret-name")
	receipt, err := a.Withdraw.Erase(context.Background(), picture, withdraw.Erasing{Why: "Their family asked for it."})
	require.NoError(t, err)
	assert.Regexp(t, `\d+ files at The club's server, which are taken away there within minutes`, strings.Join(receipt.Left, "\n"))
	ctx, stop := context.WithCancel(context.Background())
	var running sync.WaitGroup
	running.Go(func() { a.Destinations.Run(ctx, time.Millisecond) }) // as it does by itself
	require.Eventually(t, func() bool { return !strings.Contains(strings.Join(a.files(), "\n"), "juniors-secret-name") }, time.Minute, 10*time.Millisecond)
	require.Eventually(t, func() bool {
		v, err := a.Destinations.Of(a.id)
		return err == nil && !v.Due && v.Now == nil
	}, time.Minute, 10*time.Millisecond)
	stop()
	running.Wait()
	for at, data := range desktest.FilesOf(t, a.folder) {
		assert.NotContains(t, at+string(data), "juniors-secret-name")
	}
	rows, err := a.Kept.SentFiles(a.id)
	require.NoError(t, err)
	for _, r := range rows {
		assert.NotContains(t, r.Path, "juniors-secret-name")
	}
}

// In a layout of the house's own stands all that a page is: what it says, what it says of itself, its
// styles and scripts. Pages that only lead on are no pages of the house.
func TestALayoutOfTheHousesOwn(t *testing.T) {
	t.Parallel()
	const layout = "<!DOCTYPE html>\n<html lang=\"{{language}}\"><head><meta charset=\"utf-8\"><title>{{title}}</title>{{head}}</head>\n<body class=\"ours\"><nav>{{sections}}</nav><main>{{content}}</main></body></html>"
	a := newAbroad(t, func(c *destinations.Change) { c.Layout, c.Relative, c.Form = layout, true, string(site.PagesForm) })
	a.Place(a.Ready("juniors-boats", 1))
	a.goLive(a.PageID)
	a.send()
	a.whole("in its own layout")
	const page = "juniors/autumn/index.html"
	plain := func() *goquery.Document {
		rec := httptest.NewRecorder()
		a.site.Plain(window.Of{Desk: a.Desk}).ServeHTTP(rec, httptest.NewRequest(http.MethodGet, "/juniors/autumn", nil))
		doc, err := goquery.NewDocumentFromReader(rec.Body)
		require.NoError(t, err)
		return doc
	}()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(a.read(page)))
	require.NoError(t, err)
	assert.Equal(t, "ours", doc.Find("body").AttrOr("class", ""))
	assert.Equal(t, plain.Find("title").Text(), doc.Find("title").Text())
	assert.Equal(t, plain.Find("html").AttrOr("lang", "-"), doc.Find("html").AttrOr("lang", ""))
	for _, find := range []string{"img", "h1", "p", "figcaption"} {
		assert.Equal(t, plain.Find("main "+find).Length(), doc.Find("main .content "+find).Length(), find)
	}
	for _, find := range []string{"meta[property]", "script", "link[rel=stylesheet]", "link[rel=canonical]"} {
		assert.Equal(t, plain.Find(find).Length(), doc.Find(find).Length(), find)
	}
	assert.Equal(t, plain.Find("nav[aria-label=Sections] li").Length(), doc.Find("nav li").Length())
	assert.Zero(t, doc.Find("footer, header").Length())
	style := doc.Find("link[rel=stylesheet]").First().AttrOr("href", "")
	assert.Contains(t, style, "content-", "the frame of the built-in site is left out")
	// What is shown at any address has links that lead from any.
	nothing, err := goquery.NewDocumentFromReader(strings.NewReader(a.read(site.NothingHere)))
	require.NoError(t, err)
	assert.Equal(t, "ours", nothing.Find("body").AttrOr("class", ""))
	for _, at := range shown(nothing) {
		assert.True(t, strings.HasPrefix(at, "/club/"), at)
	}
	require.NoError(t, a.Pages.RenamePage(a.PageID, "Autumn", "late-autumn"))
	a.send()
	assert.Contains(t, a.read(page), "url="+a.server.URL+"/club/juniors/late-autumn/")
	assert.NotContains(t, a.read(page), "ours")

	c := destinations.Change{ID: a.id, Folder: a.folder, Base: a.server.URL + "/club", Layout: "<p>{{content}}"}
	_, err = a.Destinations.Save(c)
	desktest.Refusal(t, err, access.Bad, "Invalid layout: {{head}} stands in it 0 times")
	// Without a layout pages look as usual again: all of them are sent anew.
	c.Layout = ""
	_, err = a.Destinations.Save(c)
	require.NoError(t, err)
	a.send()
	assert.NotContains(t, a.read("index.html"), "ours")
}

// Somebody publishes while files are sent: what is sent in the end is what is live, and at no moment
// does a page show what is not there.
func TestPublishingWhileFilesAreSent(t *testing.T) {
	t.Parallel()
	a := newAbroad(t, nil)
	a.Place(a.Ready("juniors-boats", 1))
	a.goLive(a.PageID)
	n := 0
	a.watch(func(_, at string) {
		if n < 1 && strings.HasSuffix(at, ".css") { // after the plan, before the pages
			n++
			require.NoError(t, a.Pages.SetText(a.PageID, "a", a.MarkOf("a"), "Changed meanwhile"))
			a.goLive(a.PageID)
			_, err := a.Destinations.DryRun(context.Background(), a.id)
			desktest.Refusal(t, err, access.TooSoon, "Files are being sent there")
		}
	}, func(act, at string) { a.whole(act + " " + at) })
	a.send()
	require.Equal(t, 1, n)
	assert.Contains(t, a.read("juniors/autumn/index.html"), "Changed meanwhile")
	v, err := a.Destinations.Of(a.id)
	require.NoError(t, err)
	assert.True(t, v.Due, "it may have changed since it was looked at")
	assert.Empty(t, v.Failed)
}

// Each file that was sent is looked at once a day, though nothing has changed.
func TestFilesAreLookedAtOnceADay(t *testing.T) {
	t.Parallel()
	bothWays(t, func(t *testing.T, a *abroad) {
		a.goLive(a.PageID)
		a.send()
		require.NoError(t, os.Remove(filepath.Join(a.folder, "index.html")))
		a.SetTime(a.Time().Add(25 * time.Hour))
		ctx, stop := context.WithCancel(context.Background())
		var running sync.WaitGroup
		running.Go(func() { a.Destinations.Run(ctx, time.Millisecond) })
		require.Eventually(t, func() bool { return slices.Contains(a.files(), "index.html") }, time.Minute, 10*time.Millisecond)
		stop()
		running.Wait()
	})
}

// The power fails when a page has been sent and that is not noted yet; then the page changes. What
// is there is known to be ours, and gives way.
func TestWhatWasBeingSentIsOurs(t *testing.T) {
	t.Parallel()
	a := newAbroad(t, nil)
	a.goLive(a.PageID)
	const page = "juniors/autumn/index.html"
	a.watch(nothing, func(_, at string) {
		if at == page {
			panic("the power fails")
		}
	})
	assert.Panics(t, func() { _, _ = a.Destinations.Send(context.Background(), a.id) })
	require.Contains(t, a.read(page), "One.")
	a.watch(nothing, nothing)
	require.NoError(t, a.Pages.SetText(a.PageID, "a", a.MarkOf("a"), "Two, and more."))
	a.goLive(a.PageID)
	assert.Empty(t, a.send().Theirs)
	assert.Contains(t, a.read(page), "Two, and more.")
}

// Somebody changes a page there between the plan and its turn: it is theirs, and stays.
func TestWhatIsChangedMeanwhileIsNotOverwritten(t *testing.T) {
	t.Parallel()
	bothWays(t, func(t *testing.T, a *abroad) {
		a.goLive(a.PageID)
		a.send()
		a.UnderRules(func(r *rules.Rules) { r.Page.Cap += 20 }) // another style: all pages are sent again
		a.watch(nothing, func(_, at string) {
			if at == "juniors/autumn/index.html" {
				a.write("index.html", "by hand")
			}
		})
		work := a.send()
		assert.Equal(t, "by hand", a.read("index.html"))
		assert.Equal(t, []string{"index.html"}, work.Theirs)
		v, err := a.Destinations.Of(a.id)
		require.NoError(t, err)
		assert.Equal(t, []string{"index.html"}, v.Theirs)
		require.NotNil(t, v.Saw)
		assert.Empty(t, v.Saw.Wrong)
	})
}

// ended has sending end while what was before it is being read, once.
type ended struct {
	store.Records
	id   uint
	next *atomic.Bool
	end  func()
}

func (e ended) View(do func(store.Records) error) error {
	return e.Records.View(func(s store.Records) error {
		if e.next.Swap(false) {
			if _, err := s.Destination(e.id); err != nil {
				return err
			}
			e.end()
		}
		return do(s)
	})
}

// Whoever asks how far sending is, while it ends, asks again: nobody is left with what was before.
func TestNobodyIsLeftWithWhatWasBeforeSending(t *testing.T) {
	t.Parallel()
	for name, ask := range map[string]func(a *abroad) (destinations.View, error){
		"one": func(a *abroad) (destinations.View, error) { return a.Destinations.Of(a.id) },
		"all": func(a *abroad) (destinations.View, error) {
			all, err := a.Destinations.All()
			require.Len(t, all, 1)
			return all[0], err
		},
	} {
		t.Run(name, func(t *testing.T) {
			a := newAbroad(t, nil)
			there, goOn := make(chan struct{}), make(chan struct{})
			a.place = func(p destinations.Place) destinations.Place {
				close(there)
				<-goOn
				return p
			}
			require.NoError(t, a.Destinations.Begin(a.id))
			<-there
			next := new(atomic.Bool)
			next.Store(true)
			a.Destinations.Store.Records = ended{a.Destinations.Store.Records, a.id, next, func() {
				close(goOn)
				require.Eventually(t, func() bool {
					v, err := a.Destinations.Of(a.id)
					return err == nil && v.Now == nil && v.SentAt != nil
				}, time.Minute, time.Millisecond)
			}}
			v, err := ask(a)
			require.NoError(t, err)
			assert.False(t, next.Load())
			assert.True(t, v.Now != nil || v.SentAt != nil, "not sent, and not being sent")
		})
	}
}
