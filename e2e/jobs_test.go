package e2e

import (
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var howFar = regexp.MustCompile(`(\d+) of (\d+)(, goes on)?`)

// A program that is killed while it cuts a batch cuts the rest of it when it is started again, and tells
// keepers so.
func TestABatchOutlivesBeingKilled(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	copySeed(t, data)
	h, kill := killable(t, data)
	batch := func() string {
		t.Helper()
		res, err := h.client.Post(h.app+"/bench/9/cut-batch", "", nil)
		require.NoError(t, err)
		defer res.Body.Close()
		doc, err := goquery.NewDocumentFromReader(res.Body)
		require.NoError(t, err)
		return doc.Text()
	}
	// listed is the line of the batch in the list of jobs.
	listed := func() []string {
		t.Helper()
		res, err := h.client.Get(h.app + "/running")
		require.NoError(t, err)
		defer res.Body.Close()
		require.Equal(t, http.StatusOK, res.StatusCode)
		doc, err := goquery.NewDocumentFromReader(res.Body)
		require.NoError(t, err)
		line := doc.Find(`[aria-label="Jobs"] tbody tr`).FilterFunction(func(_ int, tr *goquery.Selection) bool {
			return strings.Contains(tr.Text(), "Cuts of the batch")
		}).First()
		require.Contains(t, line.Text(), "Ines Varrow")
		return howFar.FindStringSubmatch(line.Find("td").Eq(1).Text())
	}
	require.Contains(t, batch(), "Cuts of the batch")
	require.NotEmpty(t, listed())
	kill()
	h, _ = killable(t, data)
	require.Eventually(t, func() bool { at := listed(); return at[3] == "" }, patience, 50*time.Millisecond)
	at := listed()
	assert.Equal(t, at[2], at[1], "all of it")
	assert.Contains(t, batch(), "All files of this batch are ready")
	sound(t, data)
}
