package main

import "testing"

// Whatever is typed for a veil is one, or is refused.
func FuzzVeil(f *testing.F) {
	f.Add("rect:370,194,1030,56")
	f.Add("ellipse:1,2,3,4:figure")
	f.Fuzz(func(t *testing.T, s string) {
		if e, err := parseVeil(s); err == nil && e.Veil == nil {
			t.Fatal("an edit without a veil")
		}
	})
}
