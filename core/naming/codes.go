package naming

// Code names what is wrong with a name. The interface says it; see package sentences.
type Code string

// The codes, with their values.
const (
	Empty            Code = "empty"
	ReservedName     Code = "reserved" // [the name]
	TooLong          Code = "long"     // [characters, the most]
	Symbol           Code = "symbol"   // [the characters, what separates words]
	Hyphens          Code = "hyphens"  // [what separates words]
	NeedsDate        Code = "date"     // [how it is written]
	NeedsNumber      Code = "number"   // [digits]
	CameraName       Code = "camera"   // [the name]
	NeedsSubject     Code = "subject"
	IdleWords        Code = "idle"
	Space            Code = "space"
	SpaceUnderscores Code = "space-underscores"
	SpaceCapitals    Code = "space-capitals"
	SmallLetters     Code = "case"
	Capitalised      Code = "capitals"      // [the name as it should be]
	NeedsSection     Code = "section"       // [how it begins]
	TakenName        Code = "taken"         // another picture has it
	OtherSection     Code = "other-section" // [the section it names, how it should begin]
)
