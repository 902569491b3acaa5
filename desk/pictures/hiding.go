package pictures

import (
	"image"

	"mivlet/core/veil"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Hiding stands for what hides something on a picture: its veils, whatever they are
// called and whyever they are there.
func Hiding(pic store.Picture) []string {
	all := []string{}
	for _, v := range pic.Work.Recipe.Veils() {
		all = append(all, veilPrint(v))
	}
	return all
}

// veilPrint stands for a veil. It is made of the form that veils had when the first live
// pages were told of theirs: what is live is compared with it for years.
func veilPrint(v veil.Veil) string {
	v.ID, v.Reason = "", ""
	type plain veil.Veil
	type spot struct {
		Frame  int             `json:"frame"`
		Bounds image.Rectangle `json:"bounds"`
	}
	first := struct {
		plain
		Path []spot `json:"path,omitempty"`
	}{plain: plain(v)}
	for _, s := range v.Path {
		first.Path = append(first.Path, spot{s.Frame, s.Bounds})
	}
	return derive.Fingerprint(8, first)
}
