package twin

import (
	"encoding/binary"
	"image"
	"math/bits"
)

// cutOff is how much of a side is cut off where a crop is looked for.
const cutOff = 0.1

// Crops are the hashes of what is left of a picture where a tenth is cut off on one side, or on two that
// meet in a corner. What is cut off on all sides alike is in its [Hash].
type Crops [8]uint64

// CropsOf hashes the crops of a picture. Some hundred pixels on a side are enough.
func CropsOf(m image.Image) (c Crops) {
	b := m.Bounds()
	dx, dy := int(float64(b.Dx())*cutOff+0.5), int(float64(b.Dy())*cutOff+0.5)
	for i, cut := range [len(c)][4]int{{1, 0, 0, 0}, {0, 1, 0, 0}, {0, 0, 1, 0}, {0, 0, 0, 1}, {1, 1, 0, 0}, {0, 1, 1, 0}, {0, 0, 1, 1}, {1, 0, 0, 1}} {
		c[i] = hash(m, image.Rect(b.Min.X+dx*cut[0], b.Min.Y+dy*cut[1], b.Max.X-dx*cut[2], b.Max.Y-dy*cut[3]))
	}
	return c
}

// Distance is the least number of bits in which one of the crops differs from the whole of a picture,
// from 0 to 64.
func (c Crops) Distance(o Hash) int {
	best := 64
	for _, part := range c {
		if part != 0 {
			best = min(best, bits.OnesCount64(part^o[0]))
		}
	}
	return best
}

// Bytes are the crops as they are kept; [ReadCrops] reads them.
func (c Crops) Bytes() []byte {
	b := make([]byte, 0, 8*len(c))
	for _, part := range c {
		b = binary.BigEndian.AppendUint64(b, part)
	}
	return b
}

// ReadCrops reads what [Crops.Bytes] gave; nothing gives crops that are like no picture.
func ReadCrops(b []byte) (c Crops) {
	if len(b) != 8*len(c) {
		return c
	}
	for i := range c {
		c[i] = binary.BigEndian.Uint64(b[8*i:])
	}
	return c
}
