package store

import "gorm.io/gorm/clause"

// Copy is a file made from a picture for a screen, such as what lies on the stage. It
// can be made again at any time.
type Copy struct {
	PictureID uint   `gorm:"primaryKey;autoIncrement:false"`
	Purpose   string `gorm:"primaryKey"`
	N         int    `gorm:"primaryKey;autoIncrement:false"` // which of several, counted from 0
	Key       string // what it was made from
	Hash      string
}

// Copies returns the copies of a picture for a purpose that were made from what a key
// stands for, in their order.
func (s *Store) Copies(picture uint, purpose, key string) ([]Copy, error) {
	var all []Copy
	return all, s.read.Where("picture_id = ? AND purpose = ? AND key = ?", picture, purpose, key).Order("n").Find(&all).Error
}

// SetCopies keeps the copies of a picture for a purpose, in the place of those before.
// It fails with [ErrNotFound] where the picture has gone.
func (s *Store) SetCopies(picture uint, purpose, key string, hashes []string) error {
	return s.Tx(func(s *Store) error {
		if _, err := s.Picture(picture); err != nil {
			return err
		}
		if err := s.write.Where("picture_id = ? AND purpose = ?", picture, purpose).Delete(&Copy{}).Error; err != nil {
			return err
		}
		all := make([]Copy, len(hashes))
		for i, h := range hashes {
			all[i] = Copy{picture, purpose, i, key, h}
		}
		return s.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&all).Error
	})
}
