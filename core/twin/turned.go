package twin

// Bits of the frequencies whose wave across, or down, is odd: mirroring turns them over.
var oddAcross, oddDown = func() (across, down uint64) {
	for i := 1; i < low*low; i++ {
		if i%low%2 == 1 {
			across |= 1 << i
		}
		if i/low%2 == 1 {
			down |= 1 << i
		}
	}
	return across, down
}()

// Ways are the hashes of a picture, one for each way that it can be turned and mirrored.
type Ways [8]Hash

// Ways are the hashes of a picture in all eight ways that it can be turned and mirrored, as far as
// its own hash tells them; the first is its own. A mirrored wave of an odd frequency has the other
// sign, and the frequencies lie around nothing (the transform of Ahmed, Natarajan and Rao, 1974).
func (h Hash) Ways() (all Ways) {
	for i := range all {
		for k, part := range h {
			if i&4 != 0 {
				part = transposed(part)
			}
			if part != 0 && i&1 != 0 {
				part ^= oddAcross
			}
			if part != 0 && i&2 != 0 {
				part ^= oddDown
			}
			all[i][k] = part
		}
	}
	return all
}

// Apart is [Hash.Distance] in the way that the one is turned and mirrored nearest to the other.
func (w Ways) Apart(o Hash) int {
	best := 64
	for _, way := range w {
		best = min(best, way.Distance(o))
	}
	return best
}

// transposed exchanges across and down.
func transposed(part uint64) (out uint64) {
	for i := range low * low {
		out |= part >> i & 1 << (i%low*low + i/low)
	}
	return out
}
