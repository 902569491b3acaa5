package demo

import (
	"time"

	"mivlet/store"
)

// people of the club; all of them are made up. They have no passwords: in the
// demo one signs in as one of them with one click.
var people = []store.Person{
	{Name: "Ines Varrow", Login: "ines.varrow", Keeper: true},
	{Name: "Odo Tamsin", Login: "odo.tamsin", Roles: []store.Role{{Section: "boatshed", Role: "publisher"}, {Section: "touring", Role: "publisher"}}},
	{Name: "Marta Quillfeather", Login: "marta.q", Roles: []store.Role{{Section: "juniors", Role: "publisher"}, {Section: "socials", Role: "contributor"}}},
	{Name: "Pell Ashgrove", Login: "pell", Roles: []store.Role{{Section: "juniors", Role: "contributor"}}},
	{Name: "Sunniva Pike", Login: "s.pike", Roles: []store.Role{{Section: "river", Role: "publisher"}}},
	{Name: "Bram Oddersley", Login: "bram.o", Roles: []store.Role{{Section: "touring", Role: "contributor"}, {Section: "socials", Role: "publisher"}}},
}

func addPeople(s store.Records, now time.Time) error {
	for _, p := range people {
		p.CreatedAt = now
		if err := s.SavePerson(&p); err != nil {
			return err
		}
	}
	return nil
}

// by is who worked on a picture of the scenario.
func (it item) by() string {
	return map[string]string{"juniors": "Marta Quillfeather", "touring": "Odo Tamsin", "boatshed": "Odo Tamsin", "river": "Sunniva Pike", "socials": "Bram Oddersley"}[it.section]
}

// folder is where a picture of the scenario lies on its section's shelf.
func (it item) folder() string {
	switch {
	case it.station == store.Arrivals:
		return ""
	case it.section == "boatshed":
		return "shed"
	}
	return "2026/autumn"
}
