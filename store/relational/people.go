package relational

import (
	"time"

	"gorm.io/gorm"

	"mivlet/store"
)

func (s *Records) People() ([]store.Person, error) {
	var all []store.Person
	return all, s.read.Preload("Roles").Order("keeper DESC, name").Find(&all).Error
}

func (s *Records) Person(id uint) (store.Person, error) {
	var rows []struct {
		store.Person
		Section, Role *string
	}
	err := s.read.Raw("SELECT "+s.fields(store.Person{}, "people")+", roles.section, roles.role FROM people LEFT JOIN roles ON roles.person_id = people.id WHERE people.id = ? ORDER BY roles.section", id).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = store.ErrNotFound
	}
	if err != nil {
		return store.Person{}, err
	}
	p := rows[0].Person
	for _, r := range rows {
		if r.Section != nil && r.Role != nil {
			p.Roles = append(p.Roles, store.Role{PersonID: p.ID, Section: *r.Section, Role: *r.Role})
		}
	}
	return p, nil
}

func (s *Records) PersonByLogin(login string) (store.Person, error) {
	var p store.Person
	return p, found(s.read.Preload("Roles").First(&p, "lower(login) = lower(?)", login).Error)
}

func (s *Records) PersonByInvitation(hash string) (store.Person, error) {
	if hash == "" {
		return store.Person{}, store.ErrNotFound
	}
	var p store.Person
	return p, found(s.read.Preload("Roles").First(&p, "invitation = ?", hash).Error)
}

func (s *Records) PersonBySubject(issuer, subject string) (store.Person, error) {
	if subject == "" {
		return store.Person{}, store.ErrNotFound
	}
	var p store.Person
	return p, found(s.read.Preload("Roles").First(&p, "issuer = ? AND subject = ?", issuer, subject).Error)
}

func (s *Records) Provider() (store.Provider, error) {
	var p store.Provider
	return p, found(s.read.First(&p, "id = 1").Error)
}

func (s *Records) SaveProvider(p store.Provider) error {
	p.ID, p.Groups = 1, append([]store.GroupRole{}, p.Groups...)
	return s.write.Save(&p).Error
}

func (s *Records) DropProvider() error { return s.write.Delete(&store.Provider{}, "id = 1").Error }

func (s *Records) AddPasskey(p *store.Passkey) error { return s.write.Create(p).Error }

func (s *Records) Passkeys(person uint) ([]store.Passkey, error) {
	var all []store.Passkey
	return all, s.read.Order("id").Find(&all, "person_id = ?", person).Error
}

func (s *Records) PasskeyByKey(keyID string) (store.Passkey, error) {
	var p store.Passkey
	return p, found(s.read.First(&p, "key_id = ?", keyID).Error)
}

func (s *Records) CountPasskeys() (int64, error) {
	var n int64
	return n, s.read.Model(&store.Passkey{}).Count(&n).Error
}

func (s *Records) UsePasskey(id uint, kept string, at time.Time) error {
	return s.write.Model(&store.Passkey{}).Where("id = ?", id).UpdateColumns(map[string]any{"kept": kept, "used_at": at}).Error
}

func (s *Records) DropPasskey(person, id uint) error {
	return s.ofPerson(person, id).Delete(&store.Passkey{}).Error
}

// ofPerson is one of what a person has; all of it where id is 0.
func (s *Records) ofPerson(person, id uint) *gorm.DB {
	q := s.write.Where("person_id = ?", person)
	if id != 0 {
		q = q.Where("id = ?", id)
	}
	return q
}

func (s *Records) AddSignedIn(one *store.SignedIn) error { return s.write.Create(one).Error }

func (s *Records) SignedIn(person uint) ([]store.SignedIn, error) {
	var all []store.SignedIn
	return all, s.read.Order("seen_at DESC, id DESC").Find(&all, "person_id = ?", person).Error
}

func (s *Records) SeeSignedIn(id uint, at time.Time) error {
	return s.write.Model(&store.SignedIn{}).Where("id = ?", id).UpdateColumn("seen_at", at).Error
}

func (s *Records) EndSignedIn(person, id uint) error {
	return s.ofPerson(person, id).Delete(&store.SignedIn{}).Error
}

func (s *Records) DropSignedInBefore(at time.Time) error {
	return s.write.Where("seen_at < ?", at).Delete(&store.SignedIn{}).Error
}

func (s *Records) SavePerson(p *store.Person) error {
	roles := p.Roles
	p.SecondSpare = append([]string{}, p.SecondSpare...)
	if err := s.write.Omit("Roles").Save(p).Error; err != nil {
		return err
	}
	if err := s.write.Where("person_id = ?", p.ID).Delete(&store.Role{}).Error; err != nil {
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

func (s *Records) AddDecoded(day string, took time.Duration) (time.Duration, error) {
	var millis int64
	err := s.write.Exec("DELETE FROM decoded WHERE day < ?", day).Error
	if err == nil {
		err = s.write.Raw("INSERT INTO decoded (day, millis) VALUES (?, ?) ON CONFLICT (day) DO UPDATE SET millis = decoded.millis + excluded.millis RETURNING millis", day, took.Milliseconds()).Scan(&millis).Error
	}
	return time.Duration(millis) * time.Millisecond, err
}

func (s *Records) CountPeople() (int64, error) {
	var n int64
	return n, s.read.Model(&store.Person{}).Count(&n).Error
}
