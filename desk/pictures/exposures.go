package pictures

import (
	"slices"

	"mivlet/core/consent"
	"mivlet/store"
)

// SinceThen tells why a file that is or was live may not be shown by now: what has
// happened since to its picture, which is called name; "" where nothing speaks against
// it.
func (d *Desk) SinceThen(f store.Published, pic store.Picture, name string) string {
	switch {
	case pic.Station == store.Bin:
		return name + " was thrown away"
	case f.Averaged:
		return "what is hidden on " + name + " went live as averages, which can be guessed back"
	case f.Original == "" || f.Veils == nil:
		return "nobody can tell any more what was hidden on " + name
	case f.Original != pic.OriginalHash:
		return "another file was swapped in for " + name
	case !hidesAllOf(f, pic):
		return "a veil was drawn on " + name + " since"
	}
	return d.mayNotBeSeen(pic, name)
}

// mayNotBeSeen tells who on a picture, which is called name, may not be seen by now and
// is covered by no veil; "" where that is nobody.
func (d *Desk) mayNotBeSeen(pic store.Picture, name string) string {
	binding := consent.Binding(pic.Consents, pic.Work.Recipe.VeilIDs(), d.Today())
	switch {
	case len(binding) == 0:
		return ""
	case slices.ContainsFunc(binding, func(e consent.Entry) bool { return e.State == consent.Refused }):
		return "someone in " + name + " refused permission"
	default:
		return "the permission of someone in " + name + " has ended"
	}
}

// hidesAllOf reports whether a file was cut with every veil that its picture has now.
func hidesAllOf(f store.Published, pic store.Picture) bool {
	return !slices.ContainsFunc(Hiding(pic), func(v string) bool { return !slices.Contains(f.Veils, v) })
}
