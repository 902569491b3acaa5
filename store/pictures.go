package store

import (
	"cmp"
	"encoding/json"
	"slices"
	"time"

	"gorm.io/gorm"

	"mivlet/core/consent"
	"mivlet/core/face"
	"mivlet/core/facts"
	"mivlet/core/recipe"
)

// Station is where a picture is in the order of the work.
type Station string

// The stations a picture can be at.
const (
	Arrivals Station = "arrivals"
	Bench    Station = "bench"
	Shelf    Station = "shelf" // placed on a page
	Bin      Station = "bin"   // thrown away, to be brought back
)

// Picture is one image: its untouched original, its recipe, its name and words.
type Picture struct {
	ID                  uint
	Section             string
	OriginalHash        string
	OriginalName        string      // what the file was called when it came
	Facts               facts.Facts `gorm:"serializer:json"`
	Station             Station
	Secret              string `json:"-"` // random, of this picture and its variants: what it keys tells nothing of the original
	Version             int    // counts up with every change, whoever makes it
	Step                int    // the step of the history that is shown
	Work                Work   `gorm:"serializer:json"`
	Name                string // Work.Name, for finding
	PreviewHash         string // working copy for the stage, upright and as it arrived
	ThumbHash           string // small copy with the recipe that LookKey stands for
	LookHash            string // larger copy with the same recipe
	LookKey             string
	Folder              string // path below the section's shelf, such as 2026/autumn; "" is its root
	Person              string // who brought it in
	VariantOf           uint   // the picture whose original it shares; 0 for none
	Converted           string // media type that it came as, where it was converted
	ArrivedHash         string // the file as it came, where it was converted
	Was                 Station
	BinnedAt            *time.Time
	TwinA, TwinB, TwinC int64     // perceptual hashes, see core/twin
	CreatedAt           time.Time `gorm:"autoCreateTime:false"`
	UpdatedAt           time.Time `gorm:"autoUpdateTime:false"`

	// What shelves are filtered and ordered by; it follows from the rest.
	Shelved      bool
	Taken        string // 2006-01-02T15:04:05
	Described    bool
	Soft         bool
	Heavy        bool
	Position     bool
	Consent      string
	ConsentUntil string // the first day on which a consent ends, 2006-01-02; empty for none
	Bytes        int64

	Faces    []face.Face     `gorm:"serializer:json"` // found in the original, upright
	FacesBy  int             // version of what looked for them; 0 where nothing has
	Consents []consent.Entry `gorm:"serializer:json"` // who is seen on it, and whether they may be
}

// Work is what an editor has decided about a picture.
type Work struct {
	Recipe recipe.Recipe `json:"recipe"`
	Slot   string        `json:"slot"`
	Name   string        `json:"name"`
	Alt    string        `json:"alt"`

	Caption    string `json:"caption,omitempty"`
	LongAlt    string `json:"long_alt,omitempty"`
	Credit     string `json:"credit,omitempty"`
	Decorative bool   `json:"decorative,omitempty"`
	Reason     string `json:"reason,omitempty"` // why it is decorative
	Hidden     string `json:"hidden,omitempty"` // names that veils hide, parted by commas

	Also    []string         `json:"also,omitempty"`    // further slots that it is cut for
	Budgets map[string]int64 `json:"budgets,omitempty"` // bytes of the largest cut, by slot, where it is not the slot's own
	Left    []string         `json:"left,omitempty"`    // faces that may be seen, by their IDs
	Still   int              `json:"still,omitempty"`   // the frame of an animation that is shown where animations do not play, counted from 0
}

// Step is one entry of a picture's history: what was done, and the work as it
// stood after it. Step 0 is how the picture arrived. Steps are a tree: a new step
// after an undo begins a new branch, and the old one is kept.
type Step struct {
	ID        uint
	PictureID uint
	Seq       int // in the order they were made
	Parent    int // the step that it was made from; -1 for step 0
	Text      string
	Work      Work      `gorm:"serializer:json"`
	Person    string    // who did it
	CreatedAt time.Time `gorm:"autoCreateTime:false"`
}

// Numbers are those of the step and of the one that it was made from.
func (s Step) Numbers() (own, from int) { return s.Seq, s.Parent }

// Cut is a file made from a picture for one slot at one density.
type Cut struct {
	ID        uint
	PictureID uint
	Key       string // recipe and slot it was made from
	Density   float64
	Effective float64
	CSSWidth  int `gorm:"column:css_width"`
	Width     int
	Height    int
	Hash      string
	MediaType string
	Bytes     int64
	Quality   int
	Why       string
	MadeAt    time.Time
}

// AddPicture keeps a new picture and its step 0.
func (s *Store) AddPicture(p *Picture) error {
	p.follow()
	p.Version = 1
	if err := s.write.Create(p).Error; err != nil {
		return err
	}
	if err := s.indexAs(p, "", ""); err != nil {
		return err
	}
	return s.write.Create(&Step{PictureID: p.ID, Parent: -1, Text: "As it arrived", Work: p.Work, CreatedAt: p.CreatedAt}).Error
}

// Picture returns the picture with a number.
func (s *Store) Picture(id uint) (Picture, error) {
	var p Picture
	return p, found(s.read.First(&p, id).Error)
}

// PicturesAt returns the pictures at a station, newest first.
func (s *Store) PicturesAt(at Station) ([]Picture, error) {
	var ps []Picture
	return ps, s.read.Where("station = ?", at).Order("id DESC").Find(&ps).Error
}

// PicturesOf returns the pictures of some sections at a station, newest first,
// no more than most; without sections those of all.
func (s *Store) PicturesOf(at Station, sections []string, most int) ([]Picture, error) {
	q := s.read.Where("station = ?", at)
	if sections != nil {
		q = q.Where("section IN ?", sections)
	}
	var ps []Picture
	return ps, q.Order("id DESC").Limit(most).Find(&ps).Error
}

// PicturesIn returns those of some pictures that are there, by their numbers.
func (s *Store) PicturesIn(ids []uint) (map[uint]Picture, error) {
	var found []Picture
	if err := s.inParts(ids, func(q *gorm.DB, some []uint) error {
		var part []Picture
		err := q.Find(&part, "id IN ?", some).Error
		found = append(found, part...)
		return err
	}); err != nil {
		return nil, err
	}
	all := make(map[uint]Picture, len(found))
	for _, p := range found {
		all[p.ID] = p
	}
	return all, nil
}

// VersionsOf returns the versions of those of some pictures that are there.
func (s *Store) VersionsOf(ids []uint) (map[uint]int, error) {
	all := map[uint]int{}
	err := s.inParts(ids, func(q *gorm.DB, some []uint) error {
		var found []Picture
		err := q.Select("id", "version").Find(&found, "id IN ?", some).Error
		for _, p := range found {
			all[p.ID] = p.Version
		}
		return err
	})
	return all, err
}

// mostAtOnce is how many numbers one statement names; SQLite takes 32,766.
const mostAtOnce = 10_000

// inParts asks for many records in statements of a size that the database takes.
func (s *Store) inParts(ids []uint, ask func(*gorm.DB, []uint) error) error {
	for some := range slices.Chunk(ids, mostAtOnce) {
		if err := ask(s.read, some); err != nil {
			return err
		}
	}
	return nil
}

// PicturesByOriginal returns the pictures that were made from a file.
func (s *Store) PicturesByOriginal(hash string) ([]Picture, error) {
	var ps []Picture
	return ps, s.read.Where("original_hash = ? OR arrived_hash = ?", hash, hash).Order("id").Find(&ps).Error
}

// PicturesByOriginals returns the pictures that were made from some files, by those.
func (s *Store) PicturesByOriginals(hashes []string) (map[string][]Picture, error) {
	var found []Picture
	for some := range slices.Chunk(hashes, mostAtOnce) {
		var part []Picture
		if err := s.read.Where("original_hash IN ? OR (arrived_hash <> '' AND arrived_hash IN ?)", some, some).Order("id").Find(&part).Error; err != nil {
			return nil, err
		}
		found = append(found, part...)
	}
	all := map[string][]Picture{}
	for _, p := range found {
		for _, hash := range []string{p.OriginalHash, p.ArrivedHash} {
			if hash != "" {
				all[hash] = append(all[hash], p)
			}
		}
	}
	return all, nil
}

// NameTaken reports whether another picture of the section has a name.
func (s *Store) NameTaken(section, name string, but uint) (bool, error) {
	var n int64
	err := s.read.Model(&Picture{}).Where("section = ? AND name = ? AND id <> ?", section, name, but).Count(&n).Error
	return n > 0, err
}

// SavePicture writes a picture back as its next version. Read it in the same
// transaction. What pages show of it is worked out anew.
func (s *Store) SavePicture(p *Picture) error {
	p.follow()
	p.Version++
	if err := s.write.Save(p).Error; err != nil {
		return err
	}
	if err := s.unsettle("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", p.ID); err != nil {
		return err
	}
	return s.index(p)
}

// follow fills in what follows from the rest.
func (p *Picture) follow() {
	w := p.Work
	p.Name, p.Described = w.Name, w.Decorative || w.Alt != ""
	p.Position, p.Bytes = p.Facts.Position, p.Facts.Bytes
	p.Consent, p.ConsentUntil = string(consent.Strictest(p.Consents)), consent.FirstEnd(p.Consents)
	p.Shelved = p.Station == Bench || p.Station == Shelf
	if p.Taken = ""; !p.Facts.Taken.IsZero() {
		p.Taken = p.Facts.Taken.Format("2006-01-02T15:04:05")
	}
}

// SetPreview notes the working copy of a picture and its perceptual hash, and
// nothing else: they may be ready while somebody works on it. It reports whether
// the picture is still there with the original that they were made from.
func (s *Store) SetPreview(p Picture) (bool, error) {
	res := s.write.Model(&Picture{}).Where("id = ? AND original_hash = ?", p.ID, p.OriginalHash).
		UpdateColumns(map[string]any{"preview_hash": p.PreviewHash, "twin_a": p.TwinA, "twin_b": p.TwinB, "twin_c": p.TwinC})
	return res.RowsAffected > 0, res.Error
}

// SetLooks notes the copies of a picture that show a recipe. It reports whether
// the picture is still there.
func (s *Store) SetLooks(p Picture) (bool, error) {
	res := s.write.Model(&Picture{}).Where("id = ?", p.ID).UpdateColumns(map[string]any{"look_key": p.LookKey, "thumb_hash": p.ThumbHash, "look_hash": p.LookHash})
	return res.RowsAffected > 0, res.Error
}

// AddStep writes a step that follows the one that is shown. Steps that were undone
// are kept: they may be somebody else's.
func (s *Store) AddStep(p *Picture, text, person string, at time.Time) error {
	work, err := json.Marshal(p.Work)
	if err != nil {
		return err
	}
	p.UpdatedAt = at
	if err := s.write.Raw("INSERT INTO steps (picture_id, seq, parent, text, work, person, created_at) SELECT ?, COALESCE(MAX(seq), -1) + 1, ?, ?, ?, ?, ? FROM steps WHERE picture_id = ? RETURNING seq",
		p.ID, p.Step, text, string(work), person, at, p.ID).Scan(&p.Step).Error; err != nil {
		return err
	}
	return s.SavePicture(p)
}

// Steps returns the history of a picture, oldest first.
func (s *Store) Steps(picture uint) ([]Step, error) {
	var steps []Step
	return steps, s.read.Where("picture_id = ?", picture).Order("seq").Find(&steps).Error
}

// StepsSince returns the steps of a picture from a number on, in the order they were made.
func (s *Store) StepsSince(picture uint, seq int) ([]Step, error) {
	var steps []Step
	return steps, s.read.Where("picture_id = ? AND seq >= ?", picture, seq).Order("seq").Find(&steps).Error
}

// ForgetSteps forgets the steps of a picture before seq, which becomes the first.
// Their numbers are not given again.
func (s *Store) ForgetSteps(picture uint, seq int) error {
	if err := s.write.Where("picture_id = ? AND seq < ?", picture, seq).Delete(&Step{}).Error; err != nil {
		return err
	}
	return s.write.Model(&Step{}).Where("picture_id = ? AND seq = ?", picture, seq).UpdateColumn("parent", -1).Error
}

// Step returns one step of the history of a picture.
func (s *Store) Step(picture uint, seq int) (Step, error) {
	var step Step
	return step, found(s.read.First(&step, "picture_id = ? AND seq = ?", picture, seq).Error)
}

// Cuts returns the cuts of a picture that were made with a key, in ascending
// density.
func (s *Store) Cuts(picture uint, key string) ([]Cut, error) {
	var cuts []Cut
	return cuts, s.read.Where("picture_id = ? AND key = ?", picture, key).Order("density").Find(&cuts).Error
}

// AddCuts keeps cuts that were made of one picture, and whether one of them is
// beyond its budget. It fails with [ErrNotFound] where the picture has gone.
func (s *Store) AddCuts(cuts []Cut, heavy bool) error {
	return s.Tx(func(s *Store) error {
		id := cuts[0].PictureID
		there := s.write.Model(&Picture{}).Where("id = ?", id).UpdateColumn("heavy", heavy)
		if there.Error != nil || there.RowsAffected == 0 {
			return cmp.Or(there.Error, ErrNotFound)
		}
		if err := s.write.Create(&cuts).Error; err != nil {
			return err
		}
		return s.unjudge("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", id)
	})
}

// CountInSection returns how many pictures and pages a section has.
func (s *Store) CountInSection(section string) (int64, error) {
	var pictures, pages int64
	if err := s.read.Model(&Picture{}).Where("section = ?", section).Count(&pictures).Error; err != nil {
		return 0, err
	}
	err := s.read.Model(&Page{}).Where("section = ?", section).Count(&pages).Error
	return pictures + pages, err
}

// CutsByHash returns the cuts with a content: an original is none.
func (s *Store) CutsByHash(hash string) ([]Cut, error) {
	var cuts []Cut
	return cuts, s.read.Where("hash = ?", hash).Find(&cuts).Error
}

// CutsIn returns the cuts of some pictures, in ascending density.
func (s *Store) CutsIn(pictures []uint) (map[uint][]Cut, error) {
	all := map[uint][]Cut{}
	err := s.inParts(pictures, func(q *gorm.DB, some []uint) error {
		var found []Cut
		err := q.Where("picture_id IN ?", some).Order("density").Find(&found).Error
		for _, c := range found {
			all[c.PictureID] = append(all[c.PictureID], c)
		}
		return err
	})
	return all, err
}

// DropCuts forgets cuts.
func (s *Store) DropCuts(ids []uint) error {
	for some := range slices.Chunk(ids, mostAtOnce) {
		if err := s.write.Delete(&Cut{}, "id IN ?", some).Error; err != nil {
			return err
		}
	}
	return nil
}

// AllCuts returns every cut that was made of a picture, newest first.
func (s *Store) AllCuts(picture uint) ([]Cut, error) {
	var cuts []Cut
	return cuts, s.read.Where("picture_id = ?", picture).Order("id DESC").Find(&cuts).Error
}

// SetStation moves a picture, and changes nothing else of it.
func (s *Store) SetStation(id uint, to Station) error {
	return s.write.Model(&Picture{}).Where("id = ?", id).UpdateColumns(map[string]any{"station": to, "shelved": to == Bench || to == Shelf}).Error
}

// CutsMadeBefore returns the cuts that were made before a moment, by picture.
func (s *Store) CutsMadeBefore(at time.Time) (map[uint][]Cut, error) {
	var found []Cut
	if err := s.read.Where("made_at IS NULL OR made_at < ?", at).Find(&found).Error; err != nil {
		return nil, err
	}
	all := map[uint][]Cut{}
	for _, c := range found {
		all[c.PictureID] = append(all[c.PictureID], c)
	}
	return all, nil
}

// SetFaces keeps which faces were found in a picture. What is judged of the pages that
// show it may change with them.
func (s *Store) SetFaces(p Picture) error {
	if err := s.write.Model(&Picture{ID: p.ID}).Where("original_hash = ?", p.OriginalHash).Select("Faces", "FacesBy").UpdateColumns(&p).Error; err != nil {
		return err
	}
	return s.unjudge("id IN (SELECT page_id FROM placed WHERE picture_id = ?)", p.ID)
}
