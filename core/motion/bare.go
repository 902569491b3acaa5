package motion

import "errors"

// errStructure is returned for what is not made as a GIF is.
var errStructure = errors.New("the file is not made as a GIF is")

// Bare returns a GIF with the very frames of another one, and nothing else that may be in a file:
// no comments, no text, no data of applications but how often it plays, and nothing after its end.
// It returns an error where the file is not whole.
func Bare(file []byte) ([]byte, error) {
	r := reader{rest: file}
	head := r.take(13)
	if r.short || string(head[:4]) != "GIF8" {
		return nil, errStructure
	}
	out := append([]byte("GIF89a"), head[6:]...)
	out = append(out, r.take(tableSize(head[10]))...)
	for !r.short {
		switch kind := r.take(1); {
		case r.short:
		case kind[0] == 0x3B:
			return append(out, 0x3B), nil
		case kind[0] == 0x2C:
			place := r.take(9)
			if r.short {
				break
			}
			out = append(append(out, 0x2C), place...)
			out = append(out, r.take(tableSize(place[8])+1)...) // with the bits of an index
			out = append(out, r.blocks()...)
		case kind[0] == 0x21:
			out = append(out, r.extension()...)
		default:
			return nil, errStructure
		}
	}
	return nil, errStructure
}

// extension takes what follows, and returns what a viewer needs of it.
func (r *reader) extension() []byte {
	label := r.take(1)
	body := r.blocks()
	if r.short {
		return nil
	}
	switch {
	case label[0] == 0xF9 && len(body) == 6: // time and transparency of the frame that follows
	case label[0] == 0xFF && len(body) == 17 && string(body[:12]) == "\x0BNETSCAPE2.0" && body[12] == 3 && body[13] == 1:
	default:
		return nil
	}
	return append([]byte{0x21, label[0]}, body...)
}

// tableSize is how many bytes the palette takes that some flags tell of.
func tableSize(flags byte) int {
	if flags&0x80 == 0 {
		return 0
	}
	return 3 << (flags&7 + 1)
}

// reader takes parts of a file, one after the other. Where it ends too soon, it is short.
type reader struct {
	rest  []byte
	short bool
}

func (r *reader) take(n int) []byte {
	if n > len(r.rest) {
		r.short, r.rest = true, nil
		return nil
	}
	part := r.rest[:n]
	r.rest = r.rest[n:]
	return part
}

// blocks takes a chain of blocks, each with its length before it, up to the empty one.
func (r *reader) blocks() []byte {
	all := r.rest
	for n := 0; !r.short; {
		length := r.take(1)
		if r.short {
			break
		}
		n += 1 + int(length[0])
		if length[0] == 0 {
			return all[:n]
		}
		r.take(int(length[0]))
	}
	return nil
}
