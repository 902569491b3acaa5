package relational

import (
	"time"

	"gorm.io/gorm/clause"

	"mivlet/store"
)

// roundsKept is how many rounds of a place are kept: more than a year of days.
const roundsKept = 400

func (s *Records) AddRound(r *store.Round, found []store.Found) error {
	if err := s.write.Create(r).Error; err != nil {
		return err
	}
	old := s.write.Exec(`DELETE FROM rounds WHERE place = ? AND id NOT IN (SELECT id FROM rounds WHERE place = ? ORDER BY at DESC, id DESC LIMIT ?)`, r.Place, r.Place, roundsKept)
	if old.Error != nil || r.Fault != "" {
		return old.Error
	}
	var was []store.Found
	if err := s.write.Select("id", "mark").Find(&was, "place = ?", r.Place).Error; err != nil {
		return err
	}
	gone := map[string]uint{}
	for _, f := range was {
		gone[f.Mark] = f.ID
	}
	for _, f := range found {
		delete(gone, f.Mark)
		f.ID, f.Place, f.LeftBy, f.LeftAt = 0, r.Place, "", nil
		key := []clause.Column{{Name: "place"}, {Name: "mark"}}
		if err := s.write.Clauses(clause.OnConflict{Columns: key, DoUpdates: clause.AssignmentColumns([]string{"finding", "section"})}).Create(&f).Error; err != nil {
			return err
		}
	}
	for _, id := range gone {
		if err := s.write.Delete(&store.Found{}, id).Error; err != nil {
			return err
		}
	}
	return nil
}

func (s *Records) Rounds(place uint) ([]store.Round, error) {
	var all []store.Round
	return all, s.read.Order("at, id").Find(&all, "place = ?", place).Error
}

func (s *Records) LastRounds() ([]store.Round, error) {
	var all []store.Round
	return all, s.read.Raw(`SELECT ` + s.fields(store.Round{}, "r") + ` FROM rounds AS r WHERE id = (SELECT id FROM rounds WHERE place = r.place ORDER BY at DESC, id DESC LIMIT 1) ORDER BY place`).Scan(&all).Error
}

func (s *Records) AllFound() ([]store.Found, error) {
	var all []store.Found
	return all, s.read.Order("place, id").Find(&all).Error
}

func (s *Records) LeaveFound(ids []uint, by string, at *time.Time) error {
	return s.write.Model(&store.Found{}).Where("id IN ?", ids).Updates(map[string]any{"left_by": by, "left_at": at}).Error
}

func (s *Records) DropRounds(place uint) error {
	if err := s.write.Delete(&store.Round{}, "place = ?", place).Error; err != nil {
		return err
	}
	return s.write.Delete(&store.Found{}, "place = ?", place).Error
}
