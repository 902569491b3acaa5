package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A keeper has a section throw away what nothing uses: the rule is one of the house's, and the screen of
// what leaves tells of it.
func TestARuleForUnusedPictures(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/rules?part=sections", 1280, 800, 1)
	hit(t, p, `[id="t/sections/juniors"] summary`)
	write(t, p, `[id="r/sections/juniors/unused_days"]`, "7")
	waitText(t, p, `[id="t/sections/juniors"]`, "30 to 3650 days")
	write(t, p, `[id="r/sections/juniors/unused_days"]`, "365")
	waitText(t, p, ".changes", "days until unused pictures are thrown away")
	write(t, p, "#rules-why", "photos of children are not kept for ever")
	hit(t, p, ".pending .primary", "Apply")
	waitText(t, p, ".pending", "Nothing is changed")
	p.MustNavigate(h.app + "/leaving").MustWaitLoad()
	waitText(t, p, "main", "Juniors keeps them for 365 days")
	waitText(t, p, "main", "No picture of yours leaves soon")
	accessible(t, p, "what leaves soon")
	p.MustNavigate(h.app + "/shelves").MustWaitLoad()
	assert.False(t, p.MustHas(".leaving"), "nothing leaves yet")
}
