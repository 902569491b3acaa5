package e2e

import (
	"strconv"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The cuts of a picture take their time. Their figures come after those of a frame
// that was drawn meanwhile, and are not shown in their place.
func TestALateAnswerIsNotDrawnOverANewerOne(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/8", 1280, 800, 1)
	require.NoError(t, proto.FetchEnable{Patterns: []*proto.FetchRequestPattern{{URLPattern: "*/bench/9/cuts", RequestStage: proto.FetchRequestStageResponse}}}.Call(p))
	var late proto.FetchRequestID
	held := p.EachEvent(func(e *proto.FetchRequestPaused) bool { late = e.RequestID; return true })
	p.MustNavigate(h.app + "/bench/9").MustWaitLoad()
	whole := frameOf(p)
	held()

	// The hand goes on.
	focus(t, p, "#frame-w")
	p.MustEval(`() => document.activeElement.select()`)
	require.NoError(t, p.InsertText("2400"))
	p.MustEval(`() => document.activeElement.blur()`)
	framed := [4]float64{0, 0, 2400, 2400}
	require.NotEqual(t, framed, whole)
	waitFor(t, p, `document.getElementById('figures').dataset.frame === '0 0 2400 2400'`)

	p.MustEval(`() => { window.came = []; document.addEventListener('htmx:afterRequest', (e) => window.came.push(e.detail.pathInfo.requestPath)); }`)
	require.NoError(t, proto.FetchContinueRequest{RequestID: late}.Call(p))
	require.NoError(t, proto.FetchDisable{}.Call(p))
	waitFor(t, p, `window.came.includes("/bench/9/cuts")`)
	assert.Equal(t, framed, frameOf(p), "figures of the frame before are not drawn over it")
	p.MustReload().MustWaitLoad()
	assert.Equal(t, framed, frameOf(p))
}

// Who has tabbed to a link stays on it while answers redraw what it stands in, and Enter
// does what it would have done.
func TestTheKeyboardStaysWhereItIs(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/8", 1280, 800, 1)
	atHand(t, p)
	for _, on := range []string{"#tools button", "#step-fit [name=also]", "#history summary", "#batch li:nth-child(2) a"} {
		focus(t, p, on)
		p.MustEval(`() => { window.was = document.activeElement; return htmx.ajax('GET', location.pathname, { swap: 'none', source: '#bench' }); }`)
		waitFor(t, p, `!window.was.isConnected`)
		calm(t, p)
		waitFor(t, p, `document.activeElement?.matches(`+strconv.Quote(on)+`)`)
	}
	to := p.MustEval(`() => document.activeElement.pathname`).Str()
	enter(t, p, input.Enter)
	waitFor(t, p, `location.pathname === '`+to+`'`)
}
