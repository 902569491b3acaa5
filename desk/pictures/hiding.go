package pictures

import (
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

func veilPrint(v veil.Veil) string {
	v.ID, v.Reason = "", ""
	return derive.Fingerprint(8, v)
}
