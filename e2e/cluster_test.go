package e2e

import (
	"cmp"
	"fmt"
	"io"
	"log"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/servertest"
	"mivlet/store/datafolder"
)

// cluster is the demo's house in PostgreSQL and object storage, on which some programs work.
type cluster struct {
	t        *testing.T
	files    []string // the program of each
	database *servertest.Postgres
	data     []string // the data folder of each
	houses   []house
	commands []*exec.Cmd
}

// newCluster moves the demo's house and starts so many programs on it.
func newCluster(t *testing.T, programs int) *cluster {
	t.Helper()
	first := t.TempDir()
	copySeed(t, first)
	return moved(t, first, slices.Repeat([]string{program}, programs)...)
}

// moved moves a house and starts programs on it, which may be of different versions; the first one moves it.
func moved(t *testing.T, first string, files ...string) *cluster {
	t.Helper()
	c := &cluster{t: t, files: files, database: servertest.NewPostgres(t)}
	bucket, _ := servertest.NewS3(t)
	secret := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(secret, []byte(servertest.Password), 0o600))
	out, err := exec.Command(files[0], "move", "--data", first, "--records", c.database.URL, "--house", "paddle",
		"--files", bucket+"/"+servertest.StoredIn+"/paddle", "--files-login", servertest.Login, "--files-secret-file", secret).CombinedOutput()
	require.NoError(t, err, "%s", out)
	require.Contains(t, string(out), "The house was carried over")
	storage, err := datafolder.ReadStorage(first)
	require.NoError(t, err)
	c.data = append(c.data, first)
	for len(c.data) < len(files) {
		dir := t.TempDir()
		require.NoError(t, storage.Write(dir))
		c.data = append(c.data, dir)
	}
	c.houses, c.commands = make([]house, len(files)), make([]*exec.Cmd, len(files))
	for i := range files {
		c.start(i)
	}
	t.Cleanup(func() {
		for i, cmd := range c.commands {
			if t.Failed() && cmd != nil { // it tells on its way out what each of its parts waits for
				_ = cmd.Process.Signal(syscall.SIGQUIT)
				_ = cmd.Wait()
				c.commands[i] = nil
			}
			c.kill(i)
		}
	})
	return c
}

// start starts one of the programs, whose people are those of the demo.
func (c *cluster) start(i int) {
	c.t.Helper()
	cmd, h, err := runFile(c.files[i], "demo", c.data[i], false)
	require.NoError(c.t, err)
	c.commands[i], c.houses[i] = cmd, h
	c.houses[i].signIn(c.t, "/sign-in/demo", url.Values{"person": {"1"}})
}

// kill ends one of the programs without a warning.
func (c *cluster) kill(i int) {
	if c.commands[i] == nil {
		return
	}
	_ = c.commands[i].Process.Kill()
	_ = c.commands[i].Wait()
	c.commands[i] = nil
}

// get returns a screen of a house.
func get(t *testing.T, h house, path string) (int, *goquery.Document) {
	t.Helper()
	res, err := h.client.Get(h.app + path)
	require.NoError(t, err)
	defer res.Body.Close()
	doc, err := goquery.NewDocumentFromReader(res.Body)
	require.NoError(t, err)
	return res.StatusCode, doc
}

// Three programs work on one house as one: who is signed in at one is at the others, people see each other
// and what they change, rules hold everywhere, and what one had begun another one ends.
func TestThreeProgramsOnOneHouse(t *testing.T) {
	t.Parallel()
	c := newCluster(t, 3)
	a, b, third := c.houses[0], c.houses[1], c.houses[2]

	// A session of one is good at the others, until it is ended at any of them.
	marta := a.as(t, 3)
	at := func(h house) house {
		return house{app: h.app, site: h.site, client: marta.client, session: marta.session}
	}
	for _, h := range c.houses {
		status, _ := get(t, at(h), "/pages")
		assert.Equal(t, http.StatusOK, status)
	}

	ines := open(t, browser(t), a.app+"/sign-in", 1280, 800, 1)
	a.enter(t, ines)
	ines.MustNavigate(a.app + "/bench/9")
	atHand(t, ines)
	other := open(t, browser(t), b.app+"/sign-in", 1280, 800, 1)
	at(b).enter(t, other)
	other.MustNavigate(b.app + "/bench/9")
	atHand(t, other)
	waitText(t, other, "#here", "Ines Varrow is here, too")
	waitText(t, ines, "#here", "is here, too")
	write(t, other, "#frame-w", "2000")
	waitFor(t, ines, `document.getElementById('figures').dataset.frame.endsWith(' 2000 2400')`)
	calm(t, ines)
	press(t, ines, 'u')
	waitFor(t, other, `document.getElementById('figures').dataset.frame.endsWith(' 3600 2400')`)

	res, err := at(third).client.PostForm(third.app+"/sign-out", nil)
	require.NoError(t, err)
	res.Body.Close()
	for _, h := range c.houses {
		require.Eventually(t, func() bool { status, _ := get(t, at(h), "/pages"); return status != http.StatusOK }, 10*time.Second, 20*time.Millisecond, "the session has ended everywhere")
	}
	waitText(t, ines, "#here", "^$")

	// A batch that one of them cuts is cut by another when that one is killed.
	batch := func(h house) string {
		res, err := h.client.Post(h.app+"/bench/9/cut-batch", "", nil)
		require.NoError(t, err)
		defer res.Body.Close()
		doc, err := goquery.NewDocumentFromReader(res.Body)
		require.NoError(t, err)
		return doc.Text()
	}
	require.Contains(t, batch(a), "Cuts of the batch")
	c.kill(0)
	require.Eventually(t, func() bool {
		_, doc := get(t, b, "/running")
		line := doc.Find(`[aria-label="Jobs"] tbody tr`).FilterFunction(func(_ int, tr *goquery.Selection) bool { return strings.Contains(tr.Text(), "Cuts of the batch") }).First()
		how := howFar.FindStringSubmatch(line.Find("td").Eq(1).Text())
		return how != nil && how[3] == "" && how[1] == how[2]
	}, patience, 100*time.Millisecond, "all of it")
	assert.Contains(t, batch(third), "All files of this batch are ready")
	sound(t, c.data[1])
}

// anyOf has each request answered by the next of some programs, whoever asks.
func anyOf(t *testing.T, houses []house) house {
	t.Helper()
	var n atomic.Int64
	front := httptest.NewServer(&httputil.ReverseProxy{FlushInterval: -1, ErrorLog: log.New(io.Discard, "", 0), Rewrite: func(r *httputil.ProxyRequest) {
		to, err := url.Parse(houses[n.Add(1)%int64(len(houses))].app)
		assert.NoError(t, err)
		r.SetURL(to)
		r.Out.Host = r.In.Host
	}})
	t.Cleanup(front.Close)
	h := houses[0]
	h.app = front.URL
	return h
}

// The walk from a camera's file to a live page, with each request answered by another of three programs: whatever it takes is
// kept where all of them see it.
func TestTheWalkWithThreePrograms(t *testing.T) {
	t.Parallel()
	c := newCluster(t, 3)
	h := anyOf(t, c.houses)
	h.hosts(t)
	walk(t, h)
	sound(t, c.data[2])
}

// One of three programs is killed at any moment, again and again, while words are kept and the page is published by
// any of them: what was acknowledged is there, whoever is asked. The database is started again in between, and the
// programs go on by themselves.
func TestOneOfThreeProgramsIsKilled(t *testing.T) {
	t.Parallel()
	c := newCluster(t, 3)
	rounds := 5
	if n, err := strconv.Atoi(os.Getenv("MIVLET_KILLS")); err == nil {
		rounds = n
	}
	noise := rand.New(rand.NewPCG(7, 7))
	acknowledged, attempted, n := "", "", 0
	// fresh is what a program shows of the page and its first words.
	fresh := func(h house) (doc *goquery.Document, block string, err error) {
		res, err := h.client.Get(h.app + "/pages/2")
		if err != nil {
			return nil, "", err
		}
		defer res.Body.Close()
		if res.StatusCode != http.StatusOK {
			return nil, "", fmt.Errorf("it answers %d", res.StatusCode)
		}
		if doc, err = goquery.NewDocumentFromReader(res.Body); err != nil {
			return nil, "", err
		}
		return doc, doc.Find(".words p").First().Closest(".words").AttrOr("data-block", ""), nil
	}
	for round := range rounds {
		victim := noise.IntN(3)
		if round%5 == 3 { // the database goes, and comes back
			c.database.Kill()
			for _, h := range c.houses {
				status, doc := get(t, h, "/pages/2")
				assert.Equal(t, http.StatusServiceUnavailable, status)
				assert.Contains(t, doc.Text(), "The house cannot be reached at the moment.")
			}
			c.database.Start()
			for _, h := range c.houses {
				require.Eventually(t, func() bool { _, _, err := fresh(h); return err == nil }, patience, 50*time.Millisecond, "it goes on by itself")
			}
		}
		killed := make(chan struct{})
		go func(wait time.Duration) {
			defer close(killed)
			time.Sleep(wait) // the moment of the kill is the input, nothing is waited for
			c.kill(victim)
		}(time.Duration(20+noise.IntN(400)) * time.Millisecond)
		before := acknowledged
		for over := false; !over || acknowledged == before; { // until one of those that are left has kept something, too
			h := c.houses[noise.IntN(3)]
			doc, block, err := fresh(h)
			if err == nil {
				n++
				words := fmt.Sprintf("Text number %d of all.", n)
				attempted = words
				mark := doc.Find("#block-"+block+" [hx-post$='/drop']").AttrOr("hx-vals", "")
				mark = strings.TrimSuffix(mark[strings.Index(mark, `"mark":"`)+8:], `"}`)
				res, err := h.client.PostForm(h.app+"/pages/2/words", url.Values{"block": {block}, "mark": {mark}, "text": {words}})
				if err == nil {
					res.Body.Close()
					if res.StatusCode == http.StatusSeeOther {
						acknowledged = words
					}
				}
				if doc, _, err = fresh(h); err == nil {
					if res, err = h.client.PostForm(h.app+"/pages/2/publish", url.Values{"seen": {doc.Find("#page-screen").AttrOr("data-seen", "")}}); err == nil {
						res.Body.Close()
					}
				}
			}
			select {
			case <-killed:
				over = true
			default:
				before = acknowledged
			}
		}
		for i, h := range c.houses {
			if i == victim {
				continue
			}
			doc, block, err := fresh(h)
			require.NoError(t, err)
			text := doc.Find("#block-" + block).Text()
			whole := acknowledged == "" || strings.Contains(text, acknowledged) || strings.Contains(text, attempted)
			assert.True(t, whole, "round %d: %q was acknowledged, %q is there", round, acknowledged, text)
		}
		c.start(victim)
	}
	sound(t, c.data[0])
}

// A new version is started on one machine after the other. Meanwhile the version before goes on, with what the new one has
// made of the records. MIVLET_BEFORE names the program of that version, such as the one that was released last; without it,
// the same version is started again.
func TestOneVersionAfterTheOther(t *testing.T) {
	t.Parallel()
	before := cmp.Or(os.Getenv("MIVLET_BEFORE"), program)
	first := t.TempDir()
	cmd, _, err := runFile(before, "demo", first, false) // it lays the house out
	require.NoError(t, err)
	require.NoError(t, cmd.Process.Signal(os.Interrupt))
	require.NoError(t, cmd.Wait())
	c := moved(t, first, before)
	n := 0
	work := func(i int) {
		t.Helper()
		h := c.houses[i]
		for _, path := range []string{"/arrivals", "/bench/9", "/shelves", "/pictures/1", "/pages", "/pages/1", "/live", "/findings", "/rules", "/people", "/destinations", "/running", "/former", "/albums", "/banners", "/covers", "/trail", "/privacy"} {
			status, _ := get(t, h, path)
			assert.Less(t, status, http.StatusInternalServerError, "%s of program %d", path, i)
		}
		n++
		res, err := h.client.PostForm(h.app+"/bench/9/name", url.Values{"name": {fmt.Sprint("juniors-renamed-", n)}})
		require.NoError(t, err)
		res.Body.Close()
		assert.Less(t, res.StatusCode, http.StatusBadRequest)
		_, doc := get(t, h, "/bench/9")
		assert.Equal(t, fmt.Sprint("juniors-renamed-", n), doc.Find("[name=name]").AttrOr("value", ""))
	}
	work(0)
	work(0) // statements are prepared by now
	storage, err := datafolder.ReadStorage(first)
	require.NoError(t, err)
	second := t.TempDir()
	require.NoError(t, storage.Write(second))
	c.files, c.data, c.houses, c.commands = append(c.files, program), append(c.data, second), append(c.houses, house{}), append(c.commands, nil)
	c.start(1)
	for range 3 {
		work(0)
		work(1)
	}
	require.NoError(t, c.commands[0].Process.Signal(os.Interrupt))
	require.NoError(t, c.commands[0].Wait())
	c.commands[0] = nil
	work(1)
	sound(t, second)
}
