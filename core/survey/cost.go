package survey

import "mivlet/core/fit"

// costs is what so many bytes of the file cost, wherever it is shown.
func (f *File) costs(bytes int64) Cost {
	return Cost{Bytes: bytes, Seconds: fit.LoadTime(bytes, fit.SlowLine).Seconds(), Pages: f.used}
}

// needs is how many pixels wide a file has to be for screens with two pixels for each CSS pixel, where it
// is shown widest.
func (f *File) needs() int {
	most := 0.0
	for _, w := range f.shown {
		most = max(most, w)
	}
	return int(most * Densest)
}

// Densest is the density of screens that pictures are made for (common practice).
const Densest = 2

// couldBe is about how many bytes a picture would have at the size that it is shown at: bytes go with
// pixels. A picture that no page shows is not needed.
func (f *File) couldBe() int64 {
	if f.used == 0 {
		return 0
	}
	if f.Facts == nil || f.Facts.MediaType == "image/svg+xml" {
		return f.Bytes
	}
	own, need := f.Facts.Upright(), f.needs()
	if need == 0 || own.W <= need {
		return f.Bytes
	}
	small := fit.ByWidth(own, need)
	return int64(float64(f.Bytes) * float64(small.W) * float64(small.H) / (float64(own.W) * float64(own.H)))
}
