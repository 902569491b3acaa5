package words

// Code names what falls short in words. The interface says it; see package sentences.
type Code string

// The codes, with their values.
const (
	MissingLink      Code = "missing-link"
	Missing          Code = "missing"
	Placeholder      Code = "placeholder"
	FileName         Code = "file-name"
	DecorativeWords  Code = "decorative-words"
	DecorativeLink   Code = "decorative-link"
	DecorativeReason Code = "decorative-reason"
	Long             Code = "long"
	CaptionLong      Code = "caption-long"
	SameAsCaption    Code = "same-as-caption"
	SameAsText       Code = "same-as-text"
	SameAsOther      Code = "same-as-other"
	ImageOf          Code = "image-of"    // [what it should begin with]
	Link             Code = "link"        // [where it leads, the words]
	Shouting         Code = "shouting"    // [the words in small letters]
	Email            Code = "email"       // [it]
	Phone            Code = "phone"       // [it]
	Plate            Code = "plate"       // [it]
	Street           Code = "street"      // [it]
	Name             Code = "name"        // [it]
	Watched          Code = "watched"     // [the word]
	HiddenName       Code = "hidden-name" // [the name]
)
