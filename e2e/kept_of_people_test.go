package e2e

import (
	"encoding/json"
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Somebody asks what is kept of them: a keeper looks it up, and gives it to them as a file. What was looked
// for stands in no address.
func TestSomebodyAsksWhatIsKept(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/people", 1280, 800, 1)
	hit(t, p, `a[href="/privacy"]`, "What is kept")
	waitText(t, p, "main", "as they arrived")
	write(t, p, "[name=name]", "Pell Ashgrove")
	p.MustElement(".privacy form .primary").MustClick()
	waitText(t, p, ".found", "Pell Ashgrove: 1 account")
	assert.Equal(t, "/privacy/person", p.MustEval(`() => location.pathname + location.search`).Str())
	accessible(t, p, "what is kept of a person")

	res, err := h.client.PostForm(h.app+"/privacy/person.json", url.Values{"name": {"Pell Ashgrove"}})
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Contains(t, res.Header.Get("Content-Disposition"), "attachment")
	var told struct {
		Of       string
		Accounts []struct{ Name string }
	}
	require.NoError(t, json.NewDecoder(res.Body).Decode(&told))
	assert.Equal(t, "Pell Ashgrove", told.Of)
	assert.Len(t, told.Accounts, 1)
}
