package store

import "time"

// Person is somebody who works with Mivlet.
type Person struct {
	ID        uint
	Name      string
	Login     string    // unique, case does not count
	Password  string    // hash; empty: cannot sign in with one
	Keeper    bool      // keeps the house: rules, people, all sections
	Away      bool      // may no longer sign in; the name stays on what was done
	Epoch     int       // counts up where all sessions end
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
	Roles     []Role    `gorm:"foreignKey:PersonID"`
}

// TableName is the table people are kept in.
func (Person) TableName() string { return "people" }

// Role is what a person may do in one section: "contributor" or "publisher".
type Role struct {
	PersonID uint   `gorm:"primaryKey;autoIncrement:false"`
	Section  string `gorm:"primaryKey"`
	Role     string
}

// People returns all people with their roles, by name.
func (s *Store) People() ([]Person, error) {
	var all []Person
	return all, s.read.Preload("Roles").Order("keeper DESC, name").Find(&all).Error
}

// Person returns a person with their roles, in one statement: every request asks.
func (s *Store) Person(id uint) (Person, error) {
	var rows []struct {
		Person
		Section, Role *string
	}
	err := s.read.Raw("SELECT people.*, roles.section, roles.role FROM people LEFT JOIN roles ON roles.person_id = people.id WHERE people.id = ? ORDER BY roles.section", id).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return Person{}, err
	}
	p := rows[0].Person
	for _, r := range rows {
		if r.Section != nil && r.Role != nil {
			p.Roles = append(p.Roles, Role{p.ID, *r.Section, *r.Role})
		}
	}
	return p, nil
}

// PersonByLogin returns the person with a login.
func (s *Store) PersonByLogin(login string) (Person, error) {
	var p Person
	return p, found(s.read.Preload("Roles").First(&p, "login = ?", login).Error)
}

// SavePerson keeps a person and replaces their roles. Call it in a transaction.
func (s *Store) SavePerson(p *Person) error {
	roles := p.Roles
	if err := s.write.Omit("Roles").Save(p).Error; err != nil {
		return err
	}
	if err := s.write.Where("person_id = ?", p.ID).Delete(&Role{}).Error; err != nil {
		return err
	}
	for i := range roles {
		roles[i].PersonID = p.ID
		if err := s.write.Create(&roles[i]).Error; err != nil {
			return err
		}
	}
	return nil
}

// CountPeople returns how many people there are.
func (s *Store) CountPeople() (int64, error) {
	var n int64
	return n, s.read.Model(&Person{}).Count(&n).Error
}
