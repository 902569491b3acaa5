package raster

import (
	"bytes"
	"encoding/binary"
	"encoding/xml"
	"fmt"
	"strings"
)

// Metadata are what a cut may carry when the house asks for it: nothing else ever
// travels with one.
type Metadata struct {
	Credit    string
	Copyright string
	Alt       string
}

// Empty reports whether there is nothing to carry.
func (w Metadata) Empty() bool { return w == Metadata{} }

// With returns the file with words inside, as an XMP packet (IPTC Photo
// Metadata Standard 2021.1 for the alt text, memory; ISO 16684-1). It fails for
// formats that it knows no place for.
func (e Encoded) With(w Metadata) (Encoded, error) {
	if w.Empty() {
		return e, nil
	}
	packet := w.xmp()
	switch e.MediaType {
	case "image/jpeg":
		// An APP1 segment right after the start of the image (ITU-T T.81, B.2.4.6).
		body := append([]byte("http://ns.adobe.com/xap/1.0/\x00"), packet...)
		if len(body)+2 > 0xFFFF {
			return e, fmt.Errorf("%d bytes of words are more than a JPEG segment holds", len(body))
		}
		segment := binary.BigEndian.AppendUint16([]byte{0xFF, 0xE1}, uint16(len(body)+2))
		e.Data = bytes.Join([][]byte{e.Data[:2], segment, body, e.Data[2:]}, nil)
	case "image/png":
		// An iTXt chunk right after the header (W3C PNG, 11.3.3.4).
		var chunk bytes.Buffer
		putChunk(&chunk, "iTXt", append([]byte("XML:com.adobe.xmp\x00\x00\x00\x00\x00"), packet...))
		const header = 8 + 25
		e.Data = bytes.Join([][]byte{e.Data[:header], chunk.Bytes(), e.Data[header:]}, nil)
	default:
		return e, fmt.Errorf("words cannot be kept in %s", e.MediaType)
	}
	return e, nil
}

func (w Metadata) xmp() []byte {
	var b strings.Builder
	b.WriteString(`<?xpacket begin="" id="W5M0MpCehiHzreSzNTczkc9d"?><x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">` +
		`<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:photoshop="http://ns.adobe.com/photoshop/1.0/" xmlns:Iptc4xmpCore="http://iptc.org/std/Iptc4xmpCore/1.0/xmlns/">`)
	element := func(open, text, end string) {
		if text == "" {
			return
		}
		b.WriteString(open)
		_ = xml.EscapeText(&b, []byte(text))
		b.WriteString(end)
	}
	element(`<photoshop:Credit>`, w.Credit, `</photoshop:Credit>`)
	element(`<dc:rights><rdf:Alt><rdf:li xml:lang="x-default">`, w.Copyright, `</rdf:li></rdf:Alt></dc:rights>`)
	element(`<Iptc4xmpCore:AltTextAccessibility><rdf:Alt><rdf:li xml:lang="x-default">`, w.Alt, `</rdf:li></rdf:Alt></Iptc4xmpCore:AltTextAccessibility>`)
	b.WriteString(`</rdf:Description></rdf:RDF></x:xmpmeta><?xpacket end="w"?>`)
	return []byte(b.String())
}
