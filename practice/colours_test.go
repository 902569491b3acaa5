package practice

import (
	"fmt"
	"image/color"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/contrast"
	"mivlet/core/page"
)

// The stylesheets show the colours that contrast is worked out with.
func TestStylesHaveTheColoursThatAreMeasured(t *testing.T) {
	t.Parallel()
	hex := func(c color.RGBA) string { return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B) }
	short := strings.NewReplacer("#fff;", "#ffffff;")
	bands, top, found := strings.Cut(string(content), "header.topped {")
	assert.True(t, found)
	for name, css := range map[string]string{"bands": bands, "top": top} {
		css = short.Replace(css)
		for _, s := range []contrast.Shade{{}, {Light: true}} {
			assert.Contains(t, css, "color: "+hex(s.Text())+";", name)
			assert.Contains(t, css, "background: "+hex(s.Ground())+";", name)
		}
	}
	for _, g := range []page.Ground{page.Mist, page.Deep} {
		ground, text := g.Colours()
		assert.Contains(t, string(content), "background: "+hex(ground)+";")
		assert.Contains(t, string(content), "color: "+hex(text)+";")
		assert.GreaterOrEqual(t, contrast.Ratio(contrast.Luminance(ground), contrast.Luminance(text)), 7.0, "%s", g)
	}
}
