package demo

import (
	"io/fs"
	"testing/fstest"
)

// Card is what lies on the demo's camera card: some of the pictures under the
// names a camera gave them, two that are not in the scenario, and the clutter
// that cameras write.
func Card() (fs.FS, error) {
	card := fstest.MapFS{
		"DCIM/100BRIND/.Trashes":     {Data: []byte{0}},
		"MISC/AUTPRINT.MRK":          {Data: []byte("[HDR]\n")},
		"DCIM/100BRIND/INDEX.BIN":    {Data: make([]byte, 4096)},
		"DCIM/100BRIND/DSC_0417.THM": {Data: []byte{0xFF, 0xD8, 0xFF, 0xD9}},
		"AVF_INFO/AVIN0001.BNP":      {Data: make([]byte, 128)},
	}
	for to, from := range map[string]string{
		"DCIM/100BRIND/DSC_0417.JPG": "DSC_0417.JPG", "DCIM/100BRIND/DSC_0421.JPG": "DSC_0421.JPG", "DCIM/100BRIND/DSC_0533.JPG": "DSC_0533.JPG",
		"DCIM/101BRIND/DSC_0612.JPG": "IMG_2101.JPG", "DCIM/101BRIND/DSC_0613.JPG": "P1040860.JPG",
	} {
		data, err := Picture(from)
		if err != nil {
			return nil, err
		}
		if to == "DCIM/101BRIND/DSC_0612.JPG" || to == "DCIM/101BRIND/DSC_0613.JPG" {
			data = append(data[:len(data):len(data)], 0) // another file: a camera pads its pictures
		}
		card[to] = &fstest.MapFile{Data: data}
	}
	return card, nil
}
