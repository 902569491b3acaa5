package sqlite

import (
	"gorm.io/gorm"

	"mivlet/store"
)

// averagedLives notes of earlier live versions which files were cut when veils were
// averages of what they hid: they are not shown again, whatever becomes of the veils.
func averagedLives(tx *gorm.DB) error {
	var all []store.LiveVersion
	if err := tx.Select("id", "files").Find(&all).Error; err != nil {
		return err
	}
	for _, v := range all {
		changed := false
		for i, f := range v.Files {
			if f.PictureID > 0 && len(f.Veils) > 0 {
				v.Files[i].Averaged, changed = true, true
			}
		}
		if !changed {
			continue
		}
		if err := tx.Model(&store.LiveVersion{ID: v.ID}).Select("Files").Updates(&v).Error; err != nil {
			return err
		}
	}
	return nil
}
