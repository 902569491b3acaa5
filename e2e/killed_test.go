package e2e

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"os/exec"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// killable starts the program on a folder, to be killed without a warning.
func killable(t *testing.T, data string) (h house, kill func()) {
	t.Helper()
	cmd, h, err := run("demo", data, false)
	require.NoError(t, err)
	var once sync.Once
	kill = func() { once.Do(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() }) }
	t.Cleanup(kill)
	h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}})
	return h, kill
}

// sound holds a data folder against the program's own check of it.
func sound(t *testing.T, data string) {
	t.Helper()
	out, err := exec.Command(program, "verify", "--data", data).CombinedOutput()
	assert.NoError(t, err, "%s", out)
	assert.Contains(t, string(out), "0 faults")
}

// Ended in the middle of much work, the program finishes or gives up what it had begun,
// and ends well.
func TestEndingUnderLoad(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	copySeed(t, data)
	cmd, h, err := run("demo", data, false)
	require.NoError(t, err)
	h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}})
	photo, err := os.ReadFile(demoPicture(t, "DSC_0417.JPG"))
	require.NoError(t, err)
	var busy sync.WaitGroup
	var begun atomic.Int64
	for range 12 {
		busy.Go(func() {
			for n := 0; ; n++ {
				req, err := http.NewRequest(http.MethodPost, h.app+"/arrivals", bytes.NewReader(photo))
				if err != nil {
					return
				}
				req.Header.Set("X-File-Name", "again.jpg")
				begun.Add(1)
				res, err := h.client.Do(req)
				if err != nil {
					return // it does not answer any more
				}
				res.Body.Close()
			}
		})
	}
	require.Eventually(t, func() bool { return begun.Load() > 14 }, patience, 10*time.Millisecond, "all are at work")
	require.NoError(t, cmd.Process.Signal(os.Interrupt))
	assert.NoError(t, cmd.Wait(), "it ends with 0")
	busy.Wait()
	sound(t, data)
}

// Killed at any moment while words are kept and the page is published: every text
// that was acknowledged is there, and the live page is whole, with all its pictures,
// as it was or as it should become.
func TestKilledInTheMiddle(t *testing.T) {
	data := t.TempDir()
	copySeed(t, data)
	h, kill := killable(t, data)
	const at = "/boatshed/where-things-hang" // live in the demo, page 2
	live := func(h house) (string, []string) {
		res, err := h.client.Get(h.site + at)
		if err != nil {
			return "", nil
		}
		defer res.Body.Close()
		if res.StatusCode != http.StatusOK {
			return "", nil
		}
		doc, err := goquery.NewDocumentFromReader(res.Body)
		require.NoError(t, err)
		var pictures []string
		doc.Find("img").Each(func(_ int, s *goquery.Selection) { pictures = append(pictures, s.AttrOr("src", "")) })
		return doc.Find("main").Text(), pictures
	}
	require.Eventually(t, func() bool { text, _ := live(h); return text != "" }, patience, 100*time.Millisecond, "the demo's page goes live")
	noise := rand.New(rand.NewPCG(7, 7))
	acknowledged, attempted, n := "", "", 0 // what was attempted last may be there, too
	for round := range 6 {
		var doc *goquery.Document
		page := func() {
			res, err := h.client.Get(h.app + "/pages/2")
			require.NoError(t, err)
			defer res.Body.Close()
			doc, err = goquery.NewDocumentFromReader(res.Body)
			require.NoError(t, err)
		}
		page()
		block := doc.Find(".words p").First().Closest(".words").AttrOr("data-block", "")
		require.NotEmpty(t, block)
		text := doc.Find("#block-" + block).Text()
		if acknowledged != "" {
			whole := strings.Contains(text, acknowledged) || strings.Contains(text, attempted)
			assert.True(t, whole, "round %d: %q was acknowledged, %q is there", round, acknowledged, text)
		}
		shown, pictures := live(h)
		assert.NotEmpty(t, shown, "round %d: the live page is there", round)
		assert.Len(t, pictures, 2, "round %d: with all its pictures", round)
		for _, src := range pictures {
			res, err := h.client.Get(h.site + src)
			require.NoError(t, err)
			res.Body.Close()
			assert.Equal(t, http.StatusOK, res.StatusCode, src)
		}

		go func(wait time.Duration, kill func()) {
			time.Sleep(wait) // the moment of the kill is the input, nothing is waited for
			kill()
		}(time.Duration(20+noise.IntN(400))*time.Millisecond, kill)
		for {
			n++
			words := fmt.Sprintf("Text number %d of all.", n)
			attempted = words
			mark := doc.Find("#block-"+block+" [hx-post$='/drop']").AttrOr("hx-vals", "")
			mark = strings.TrimSuffix(mark[strings.Index(mark, `"mark":"`)+8:], `"}`)
			res, err := h.client.PostForm(h.app+"/pages/2/words", url.Values{"block": {block}, "mark": {mark}, "text": {words}})
			if err != nil {
				break
			}
			res.Body.Close()
			if res.StatusCode == http.StatusSeeOther {
				acknowledged = words
			}
			res, err = h.client.Get(h.app + "/pages/2")
			if err != nil {
				break
			}
			doc, err = goquery.NewDocumentFromReader(res.Body)
			res.Body.Close()
			if err != nil {
				break
			}
			seen := doc.Find("#page-screen").AttrOr("data-seen", "")
			if res, err = h.client.PostForm(h.app+"/pages/2/publish", url.Values{"seen": {seen}}); err != nil {
				break
			}
			res.Body.Close()
		}
		kill()
		sound(t, data)
		h, kill = killable(t, data)
	}
	assert.Greater(t, n, 6, "something was written")
}
