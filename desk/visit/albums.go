package visit

import (
	"bytes"
	"context"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/store"
)

// albums looks at the page of every picture in the albums of the page, and at the picture
// there.
func (v visit) albums(ctx context.Context, r *Report) {
	n := 0
	for address, f := range v.signed {
		if f.For != store.ForAlbum || address != f.Path {
			continue
		}
		n++
		if why := v.albumPicture(ctx, f); why != "" {
			r.Check(false, "%s: %s", fileName(f.Path), why)
		}
	}
	if n > 0 {
		r.Check(true, "%s of albums can be enlarged, each on a page of its own", access.Count(n, "picture"))
	}
}

// albumPicture tells what is wrong with the page of one picture; "" where nothing is.
func (v visit) albumPicture(ctx context.Context, f store.Published) string {
	data, _, err := v.desk.visitor.Fetch(ctx, v.desk.Site+f.Path)
	if err != nil {
		return err.Error()
	}
	if store.HashOf(data) != f.Hash {
		return "its page is not the one that was signed"
	}
	seen, err := page.ReadHTML(bytes.NewReader(data))
	if err != nil || len(seen.Pictures) != 1 {
		return "its page does not show one picture"
	}
	if _, err := v.files(ctx, v.desk.Site+f.Path, seen.Pictures[0], false); err != nil {
		return err.Error()
	}
	return ""
}
