package store

import "time"

// Destination is a place outside that live pages are sent to.
type Destination struct {
	ID         uint
	Title      string
	Kind       string // what it is: see desk/destinations
	Host       string // address of the server that it is on; empty for a folder of this machine
	Login      string // name that it is signed in to with
	Folder     string // that files are sent to
	Region     string // of object storage; empty where the service tells it
	Secret     string // what it is signed in to with, sealed
	PublicKey  string // that the server has to know; empty where a password is used
	HostKey    string // that the server is known by
	Base       string // its public address
	Relative   bool   // links within the site are relative to their page
	Form       string // how its server is told where pages have moved; see core/site
	GraceHours int    // that files stay which nothing leads to any more
	Layout     string // of the house's own; empty where pages look as on the built-in site
	FormerSite uint   // that is sent as it was mended; 0: what is live
	Paused     bool   // nothing is sent until somebody says so
	State      string // of the site that was sent last; see [PublishedRecords]
	SentAt     *time.Time
	LookedAt   *time.Time // when each file that was sent was looked at last
	Failed     string     // why sending ended; empty where it did not
	Seen       string     // JSON of what a visitor saw of it
	CreatedAt  time.Time
}

// TableName is the table they are kept in.
func (Destination) TableName() string { return "destinations" }

// SentFile is a file that a destination has, as it was sent.
type SentFile struct {
	DestinationID  uint   `gorm:"primaryKey;autoIncrement:false"`
	Path           string `gorm:"primaryKey"`
	Sum            string // SHA-256 of its content in hex digits; empty where it is not there yet
	Bytes          int64
	Stamp          string     // what the destination says of it that changes with it
	Trying         string     // sum of what is being sent in its place
	Theirs         string     // sum of what somebody else put there; it is not overwritten
	UnusedSince    *time.Time // nothing leads to it any more
	PictureID      uint       // 0 where it shows no picture
	PictureVersion int        // of the picture as it was cut
	Shared         bool       // it belongs to the site as a whole, such as a style
}

// TableName is the table they are kept in.
func (SentFile) TableName() string { return "sent_files" }
