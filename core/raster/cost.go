package raster

import "mivlet/core/facts"

// Cost is the memory that decoding a picture takes, in bytes, as its head says: its
// pixels as the decoder holds them. frames is how many of them are held at once; 1 for
// a still.
func Cost(f facts.Facts, frames int) int64 {
	size := f.Decoded()
	pixels := int64(size.W) * int64(size.H)
	return pixels * bytesEach(f, frames > 1) * int64(max(1, frames))
}

// bytesEach is the bytes that one pixel takes while it is decoded.
func bytesEach(f facts.Facts, moves bool) int64 {
	switch {
	case moves:
		return 4 // each frame is a whole picture with transparency
	case f.MediaType == "image/jpeg":
		return 3 // full range for each of three channels; fewer where colour is halved
	case f.MediaType == "image/gif":
		return 1
	case f.MediaType == "image/svg+xml":
		return 12 // what it is drawn in, layers beside it, and ours
	case f.Depth > 8:
		return 8
	case f.MediaType == "image/webp", f.MediaType == "image/avif", f.MediaType == "image/heic":
		return 8 // the decoder's own memory, and ours
	}
	return 4
}
