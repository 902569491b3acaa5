package facts

import (
	"bufio"
	"io"
)

// gifFrames counts the frames of a GIF by walking its blocks (GIF89a
// specification, section 20 and following) without unpacking them. A file that
// breaks off gives the frames until there.
func gifFrames(r io.Reader) int {
	br := bufio.NewReaderSize(r, 64<<10)
	head := make([]byte, 13)
	if _, err := io.ReadFull(br, head); err != nil {
		return 0
	}
	if skipColours(br, head[10]) != nil {
		return 0
	}
	frames := 0
	for {
		kind, err := br.ReadByte()
		if err != nil {
			return frames
		}
		switch kind {
		case 0x21: // extension: a label, then sub-blocks
			if _, err := br.Discard(1); err != nil {
				return frames
			}
		case 0x2C: // image descriptor, then the colours, the code size and sub-blocks
			d := make([]byte, 9)
			if _, err := io.ReadFull(br, d); err != nil {
				return frames
			}
			if skipColours(br, d[8]) != nil {
				return frames
			}
			if _, err := br.Discard(1); err != nil {
				return frames
			}
			frames++
		default: // trailer, or nothing that belongs here
			return frames
		}
		if skipSubBlocks(br) != nil {
			return frames
		}
	}
}

// skipColours passes over the colour table that packed announces, if any.
func skipColours(br *bufio.Reader, packed byte) error {
	if packed&0x80 == 0 {
		return nil
	}
	_, err := br.Discard(3 << (packed&7 + 1))
	return err
}

func skipSubBlocks(br *bufio.Reader) error {
	for {
		n, err := br.ReadByte()
		if err != nil || n == 0 {
			return err
		}
		if _, err := br.Discard(int(n)); err != nil {
			return err
		}
	}
}
