package bench

import (
	"fmt"
	"io"
	"strings"

	"mivlet/desk/access"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Assignment is what many arrivals get in one act. Empty fields leave things as
// they are.
type Assignment struct {
	Slot    string
	Section string
	Folder  string
	Subject string // they are named by it, numbered in their order
	Credit  string
	Tags    []string
}

// Bring takes a file in for a slot and sends the picture to the bench.
func (d *Desk) Bring(section, slot, name string, r io.Reader) (uint, error) {
	came, err := d.pictures.Arrive(name, r, section)
	if err != nil {
		return 0, err
	}
	return came.ID, d.Send([]uint{came.ID}, Assignment{Slot: slot, Section: section})
}

// Send gives arrivals a section, a folder, a slot, a subject and a credit in one
// act, and sends them to the bench as a batch: all of them, or none.
func (d *Desk) Send(ids []uint, a Assignment) error {
	if err := d.MayWork(a.Section); err != nil {
		return err
	}
	slot, ok := d.Rules().Slot(a.Slot)
	if !ok {
		return access.Refuse(access.Bad, "No slot is chosen.", "Choose where the pictures will go, then send them.")
	}
	if _, ok := d.Rules().Section(a.Section); !ok {
		return access.Refuse(access.Bad, "No section is chosen.", "Choose whose pictures they are, then send them.")
	}
	folder, err := CleanFolder(a.Folder)
	if err != nil {
		return err
	}
	if len(ids) == 0 {
		return access.Refuse(access.Bad, "No picture is chosen.", "Tick the pictures to send.")
	}
	defer d.pictures.TakeNames()()
	return d.Store.Tx(func(s store.Records) error {
		if folder != "" {
			if err := s.AddFolder(a.Section, folder); err != nil {
				return err
			}
		}
		n := 0
		for _, id := range ids {
			p, err := d.Mine(s, id)
			if err != nil {
				return err
			}
			if p.Station != store.Arrivals {
				continue // somebody else was quicker
			}
			n++
			p.Station, p.Section, p.Folder = store.Bench, a.Section, folder
			if err := d.assign(s, &p, a, n, len(ids) > 1); err != nil {
				return err
			}
			p.Soft = pictures.Softness(d.pictures, p) != ""
			if err := s.AddStep(&p, "Fitted for "+slot.Title, d.Person.Name, d.Now()); err != nil {
				return err
			}
			if err := d.addTags(s, id, a.Tags); err != nil {
				return err
			}
		}
		return d.Trace(s, a.Section, "Sent %s to the bench", access.Count(n, "picture"))
	})
}

// assign fills in what an assignment says of one picture.
func (d *Desk) assign(s store.Records, p *store.Picture, a Assignment, n int, several bool) error {
	p.Work.Slot = a.Slot
	if credit := strings.TrimSpace(a.Credit); credit != "" {
		p.Work.Credit = credit
	}
	if strings.TrimSpace(a.Subject) == "" {
		return nil
	}
	k := d.pictures.Clues(*p, p.OriginalName)
	k.Subject = a.Subject
	if several {
		k.Number = n
	}
	name, err := d.pictures.Free(s, *p, k)
	p.Work.Name = name.Name
	return err
}

func (d *Desk) addTags(s store.Records, id uint, tags []string) error {
	if tags = pictures.CleanTags(tags); len(tags) == 0 {
		return nil
	}
	old, err := s.Tags(id)
	if err != nil {
		return err
	}
	return s.SetTags(id, append(old, tags...))
}

// CleanFolder holds a folder to what can stand in addresses: parts of lower-case
// letters, digits and hyphens, parted by slashes.
func CleanFolder(folder string) (string, error) {
	folder = strings.Trim(strings.TrimSpace(folder), "/")
	if folder == "" {
		return "", nil
	}
	var parts []string
	for _, part := range strings.Split(folder, "/") {
		clean := pictures.FolderName(part)
		if clean == "" {
			return "", access.Refuse(access.Bad, fmt.Sprintf("“%s” cannot be a folder name.", folder), "Use letters, digits and hyphens, and a slash for a folder inside another.")
		}
		parts = append(parts, clean)
	}
	if len(parts) > 8 {
		return "", access.Refuse(access.Bad, "That is more than eight folders deep.", "Use fewer, so that others can find it.")
	}
	return strings.Join(parts, "/"), nil
}
