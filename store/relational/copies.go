package relational

import (
	"gorm.io/gorm/clause"

	"mivlet/store"
)

func (s *Records) Copies(picture uint, purpose, key string) ([]store.Copy, error) {
	var all []store.Copy
	return all, s.read.Where("picture_id = ? AND purpose = ? AND key = ?", picture, purpose, key).Order("n").Find(&all).Error
}

func (s *Records) SetCopies(picture uint, purpose, key string, hashes []string) error {
	return s.tx(func(s *Records) error {
		if _, err := s.Picture(picture); err != nil {
			return err
		}
		if err := s.write.Where("picture_id = ? AND purpose = ?", picture, purpose).Delete(&store.Copy{}).Error; err != nil {
			return err
		}
		all := make([]store.Copy, len(hashes))
		for i, h := range hashes {
			all[i] = store.Copy{PictureID: picture, Purpose: purpose, N: i, Key: key, Hash: h}
		}
		return s.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&all).Error
	})
}
