package strip

// gif leaves comments out of a GIF, and what programs put in that does not make it move (GIF89a, 24 and 26).
func gif(data []byte) ([]byte, error) {
	const head = 13
	if len(data) < head || string(data[:4]) != "GIF8" {
		return nil, ErrDamaged
	}
	at := head + colours(data[10])
	if at > len(data) {
		return nil, ErrDamaged
	}
	out := append(make([]byte, 0, len(data)), data[:at]...)
	for at < len(data) {
		from, stays := at, true
		switch data[at] {
		case 0x3B: // the end
			return append(out, 0x3B), nil
		case 0x21: // an extension
			if at+2 >= len(data) {
				return nil, ErrDamaged
			}
			label := data[at+1]
			stays = label == 0xF9 || label == 0x01 || label == 0xFF && loops(data[at+2:])
			at += 2
		case 0x2C: // a picture
			if at+10 >= len(data) {
				return nil, ErrDamaged
			}
			at += 10 + colours(data[at+9]) + 1
		default:
			return nil, ErrDamaged
		}
		if at = blocksEnd(data, at); at > len(data) {
			return nil, ErrDamaged
		}
		if stays {
			out = append(out, data[from:at]...)
		}
	}
	return nil, ErrDamaged // it is cut off
}

// colours is how many bytes the table of colours has that flags tell of.
func colours(flags byte) int {
	if flags&0x80 == 0 {
		return 0
	}
	return 3 << (flags&7 + 1)
}

// loops reports whether an application's block says how often the animation plays.
func loops(block []byte) bool {
	const n = 11
	return len(block) > n && block[0] == n && (string(block[1:1+n]) == "NETSCAPE2.0" || string(block[1:1+n]) == "ANIMEXTS1.0")
}

// blocksEnd is what follows a row of blocks, which ends with an empty one; more than there is where it does
// not end.
func blocksEnd(data []byte, at int) int {
	for at < len(data) {
		n := int(data[at])
		at += 1 + n
		if n == 0 {
			return at
		}
	}
	return len(data) + 1
}
