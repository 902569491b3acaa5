package e2e

import (
	"fmt"
	"net/url"
	"os"
	"slices"
	"testing"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a browser loads of each picture that stands on a page: its file, the pixels that it has
// across and those that the screen wants of it, and all that the original has for it.
const loads = `async (density) => {
	const all = [...document.querySelectorAll('main img')].filter((img) => img.srcset || img.parentElement.querySelector('source'));
	for (const img of all) img.loading = 'eager';
	await Promise.all(all.map((img) => img.decode().catch(() => {})));
	return all.filter((img) => img.checkVisibility() && img.getBoundingClientRect().width > 1).map((img) => {
		const wide = img.getBoundingClientRect();
		const most = Math.max(...(img.srcset || '').split(',').map((s) => parseInt(s.trim().split(' ')[1]) || 0));
		return [img.currentSrc.split('/').pop().split('?')[0], parseInt(img.currentSrc.match(/-(\d+)[^/]*$/)?.[1] ?? 0), wide.width * density, most];
	});
}`

// On every screen (in turn, see inTurn) the browser takes a file with no fewer pixels than the screen has for the picture,
// where the original has them, and not many more.
func TestBrowsersLoadWhatTheirScreensNeed(t *testing.T) {
	h, densities := start(t, "demo"), []float64{1, 2}
	if os.Getenv("MIVLET_TURN") == "" { // all of it: a house that serves finer screens, too
		dir := t.TempDir()
		require.NoError(t, sow(dir, "3"))
		h, densities = running(t, "demo", dir, false), []float64{1, 2, 3}
		h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}})
		h.hosts(t)
	}
	publishAll(t, h)
	b := browser(t)
	n := 0
	var shares []float64
	for _, density := range densities {
		for _, wide := range []int{390, 768, 1280, 1920} {
			if n++; !inTurn(n) {
				continue
			}
			p := b.MustPage("about:blank")
			require.NoError(t, proto.EmulationSetDeviceMetricsOverride{Width: wide, Height: 900, DeviceScaleFactor: density}.Call(p))
			for _, at := range demoPages {
				p.MustNavigate(h.site + "/" + at).MustWaitLoad()
				for _, one := range p.MustEval(loads, density).Arr() {
					v := one.Arr()
					name, has, wants, most := v[0].Str(), v[1].Num(), v[2].Num(), v[3].Num()
					what := fmt.Sprintf("%s at %d px, %.0fx: %s for %.0f, at most %.0f", at, wide, density, name, wants, most)
					shares = append(shares, has/wants)
					assert.LessOrEqual(t, has, 1.35*wants+1, what)
					if has < most {
						assert.GreaterOrEqual(t, has, 0.95*wants-1, what)
					}
				}
			}
			p.MustClose()
		}
	}
	require.Greater(t, len(shares), 40)
	slices.Sort(shares)
	at := func(part float64) float64 { return shares[int(part*float64(len(shares)-1))] }
	t.Logf("%d pictures: at least %.2f, 5 of 100 %.2f, half %.2f, 95 of 100 %.2f, at most %.2f of what is needed", len(shares), at(0), at(0.05), at(0.5), at(0.95), at(1))
}
