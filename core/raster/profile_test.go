package raster

import (
	"os"
	"testing"

	"mivlet/core/facts"
)

// A profile that lies gives light from 0 to 1, and no panic.
func FuzzProfile(f *testing.F) {
	photo, err := os.Open("../../demo/pictures/IMG_2140.JPG")
	if err != nil {
		f.Fatal(err)
	}
	defer photo.Close()
	icc, _ := facts.Profile(photo, "image/jpeg")
	if len(icc) == 0 {
		f.Fatal("the demo photo has no profile")
	}
	f.Add(icc)
	f.Fuzz(func(t *testing.T, data []byte) {
		s := spaceOf(data, "")
		for _, curve := range s.light {
			for _, v := range curve {
				if !(v >= 0 && v <= 1) {
					t.Fatalf("light of %v", v)
				}
			}
		}
	})
}
