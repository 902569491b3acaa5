package e2e

import (
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Two clicks take a picture along, from its card, the bench and a page: the file comes, and its
// HTML with the description is on the clipboard.
func TestTakingAlongInTwoClicks(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	require.NoError(t, proto.BrowserGrantPermissions{Origin: h.app, BrowserContextID: b.BrowserContextID, Permissions: []proto.BrowserPermissionType{proto.BrowserPermissionTypeClipboardReadWrite, proto.BrowserPermissionTypeClipboardSanitizedWrite}}.Call(b))
	for n, at := range []string{"/pictures/1", "/bench/1", "/pages/7/placement?block=v6"} {
		p := open(t, b, h.app+at, 1280, 800, 1)
		p.MustActivate()
		hit(t, p, ".take-along summary")
		hit(t, p, ".take-along .primary", "Download")
		waitText(t, p, ".take-says", "is on the clipboard")
		require.Eventually(t, func() bool { return strings.Count(body(t, h.app+"/trail"), " along") == n+1 }, patience, 100*time.Millisecond, "the file has gone out")
		html := p.MustEval(`() => navigator.clipboard.readText()`).Str()
		assert.Regexp(t, `^<img src="[a-z-]+-\d+\.jpg" width="\d+" height="\d+" alt="[A-Z][^"]+">$`, html)
		p.MustClose()
	}
	p := open(t, b, h.app+"/pictures/1", 1280, 800, 1)
	hit(t, p, ".take-along summary")
	write(t, p, "#take-width-1", "500")
	p.MustElement("#take-format-1").MustSelect("PNG")
	hit(t, p, ".take-along .primary", "Download")
	waitText(t, p, ".take-says", `-500\.png, 500 × 333`)
	res, err := h.client.Get(h.app + "/pictures/1/take?width=500&format=png")
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, []any{http.StatusOK, "image/png", `attachment; filename="boatshed-eight-boats-on-racks-500.png"`}, []any{res.StatusCode, res.Header.Get("Content-Type"), res.Header.Get("Content-Disposition")})
}
