package words

import (
	"strings"

	"mivlet/core/private"
)

// said is what is told of each kind of detail that tells of a person. Numbers, addresses
// and plates hardly ever help a listener. (common practice)
var said = map[private.Kind]Remark{
	private.Email:   {Warn, "email", "Everyone can find an e-mail address in the description, also machines. (common practice)", ""},
	private.Phone:   {Warn, "phone", "A phone number in the words is found by everybody, also by machines. (common practice)", ""},
	private.Plate:   {Warn, "plate", "That looks like a number plate. It reveals whose vehicle it is. (common practice)", "“a white van”"},
	private.Street:  {Warn, "street", "That looks like an address. It reveals where somebody lives. (common practice)", ""},
	private.Name:    {Warn, "name", "That is somebody's name. Leave it out unless they agreed. (common practice)", ""},
	private.Watched: {Warn, "watched", "The house watches for this word. Leave it out unless everyone may read it. (house rules)", ""},
}

// checkPrivate finds details of persons in words: what a veil hides must not be told.
func checkPrivate(text string, hidden, watch []string) []Remark {
	var fs []Remark
	for _, name := range hidden {
		if name = strings.TrimSpace(name); len(name) > 1 && private.Holds(text, name) {
			fs = append(fs, Remark{Stop, "hidden-name", "A veil hides “" + name + "” in the picture, and the words tell it. (common practice)", "Say what happens without the name."})
		}
	}
	told := map[private.Kind]bool{}
	for _, t := range private.Judge(text, watch...) {
		f, known := said[t.Kind]
		if !known || told[t.Kind] {
			continue
		}
		told[t.Kind] = true
		if t.Kind == private.Watched {
			f.Text = "The house watches for “" + t.Text + "”. Leave it out unless everybody may read it. (house rules)"
		}
		fs = append(fs, f)
	}
	return fs
}
