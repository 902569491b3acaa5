package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The cuts of a picture take their time. Their figures come after those of a frame
// that was drawn meanwhile, and are not shown in their place.
func TestALateAnswerIsNotDrawnOverANewerOne(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	whole := frameOf(p)

	require.NoError(t, proto.FetchEnable{Patterns: []*proto.FetchRequestPattern{{URLPattern: "*/bench/9/cuts", RequestStage: proto.FetchRequestStageResponse}}}.Call(p))
	late := make(chan proto.FetchRequestID, 1)
	wait := p.EachEvent(func(e *proto.FetchRequestPaused) bool { late <- e.RequestID; return true })
	p.MustEval(`() => { htmx.ajax('POST', '/bench/9/cuts', { target: '#figures', source: '#figures', swap: 'outerHTML' }); }`)
	wait()

	// The hand goes on.
	focus(t, p, "#frame-w")
	p.MustEval(`() => document.activeElement.select()`)
	require.NoError(t, p.InsertText("2400"))
	p.MustEval(`() => document.activeElement.blur()`)
	framed := [4]float64{0, 0, 2400, 2400}
	require.NotEqual(t, framed, whole)
	waitFor(t, p, `document.getElementById('figures').dataset.frame === '0 0 2400 2400'`)

	p.MustEval(`() => { window.came = false; document.addEventListener('htmx:afterRequest', (e) => { window.came ||= e.detail.requestConfig.path.endsWith('/cuts'); }); }`)
	require.NoError(t, proto.FetchContinueRequest{RequestID: <-late}.Call(p))
	require.NoError(t, proto.FetchDisable{}.Call(p))
	waitFor(t, p, `window.came`)
	assert.Equal(t, framed, frameOf(p), "figures of the frame before are not drawn over it")
	p.MustReload().MustWaitLoad()
	assert.Equal(t, framed, frameOf(p))
}
