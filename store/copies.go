package store

// Copy is a file made from a picture for a screen, such as what lies on the stage. It
// can be made again at any time.
type Copy struct {
	PictureID uint   `gorm:"primaryKey;autoIncrement:false"`
	Purpose   string `gorm:"primaryKey"`
	N         int    `gorm:"primaryKey;autoIncrement:false"` // which of several, counted from 0
	Key       string // what it was made from
	Hash      string
}
