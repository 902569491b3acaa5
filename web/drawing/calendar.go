package drawing

import (
	"fmt"
	"time"

	"mivlet/core/banner"
)

// Calendar is a drawing of spots over weeks: weeks across, spots down, each banner a dimension
// line over its days, with a tick at each end.
type Calendar struct {
	First   string // day at the left edge
	Days    int
	W, H    float64
	Left    float64 // where days begin; the names of spots stand before
	Day     float64 // width of a day
	Weeks   []Week
	Periods []Period
	Rows    []CalendarRow
	Today   float64 // 0 where it is not in view
}

// Week is the beginning of a week.
type Week struct {
	X     float64
	Label string // such as 14 May
	Month bool   // the first of its month
}

// Period is an occasion.
type Period struct {
	X, W  float64
	Title string
	ID    uint
}

// CalendarRow is one spot.
type CalendarRow struct {
	Y, H     float64
	Shape    Box     // of the spot, to scale
	Name     float64 // where its name stands
	Lines    []BannerLine
	Coverage []Covered
}

// BannerLine is the dimension line of a banner.
type BannerLine struct {
	ID         uint
	X1, X2, Y  float64
	From, To   int  // days from the first: its first day, and the one after its last
	OpenFrom   bool // it has no first day of its own
	OpenUntil  bool
	Before     bool // it begins before what is in view
	Beyond     bool // it goes on after it
	OutOfSight bool
	In1, In2   float64 // where it may run within its occasion; both the same where it may not
}

// Covered is a stretch of days in which a number of banners may run.
type Covered struct {
	X, W    float64
	Banners int
}

// Measures of the calendar, in drawing units.
const (
	calendarLeft   = 168.0
	calendarDay    = 9.0
	calendarHead   = 62.0
	calendarLane   = 34.0
	calendarFoot   = 22.0
	shapeWide      = 60.0
	shapeHigh      = 34.0
	leastCalendarH = 3 * calendarLane
)

// SpotRow is a spot with its banners, for [Weeks].
type SpotRow struct {
	Width, Height int // CSS px
	Banners       []banner.Banner
}

// Weeks draws so many weeks from a day on.
func Weeks(first, today string, weeks int, occasions []banner.Occasion, rows []SpotRow) Calendar {
	c := Calendar{First: first, Days: 7 * weeks, Left: calendarLeft, Day: calendarDay}
	c.W = c.Left + float64(c.Days)*c.Day + 12
	for i := 0; i < c.Days; i += 7 {
		day := banner.DayAfter(first, i)
		at, err := time.Parse(time.DateOnly, day)
		if err != nil {
			continue
		}
		w := Week{c.x(i), at.Format("2 Jan"), at.Day() <= 7}
		if i+7 > c.Days {
			w.Label = ""
		}
		c.Weeks = append(c.Weeks, w)
	}
	if n := banner.DaysFrom(first, today); n >= 0 && n < c.Days {
		c.Today = c.x(n) + c.Day/2
	}
	for _, o := range occasions {
		from, to := banner.Banner{Doc: banner.Doc{From: o.From, Until: o.Until}}.Within(first, c.Days)
		if from < to {
			c.Periods = append(c.Periods, Period{c.x(from), float64(to-from) * c.Day, o.Title, o.ID})
		}
	}
	y := calendarHead
	for _, row := range rows {
		drawn := c.row(row, y)
		y += drawn.H
		c.Rows = append(c.Rows, drawn)
	}
	c.H = max(y, calendarHead+leastCalendarH)
	return c
}

func (c Calendar) x(day int) float64 { return c.Left + float64(day)*c.Day }

func (c Calendar) row(row SpotRow, y float64) CalendarRow {
	lanes, n := banner.Lanes(row.Banners, c.First, c.Days)
	r := CalendarRow{Y: y, H: float64(max(n, 1))*calendarLane + calendarFoot}
	scale := min(shapeWide/float64(max(row.Width, 1)), shapeHigh/float64(max(row.Height, 1)))
	r.Shape = Box{4, y + 8, float64(row.Width) * scale, float64(row.Height) * scale}
	r.Name = r.Shape.Y + r.Shape.H + 16
	r.H = max(r.H, r.Name+24-y)
	for i, b := range row.Banners {
		from, to := b.Within(c.First, c.Days)
		l := BannerLine{ID: b.ID, From: from, To: to, X1: c.x(from), X2: c.x(to), Y: y + float64(lanes[i])*calendarLane + 24, OpenFrom: b.From == "", OpenUntil: b.Until == "", OutOfSight: from >= to}
		l.Before = b.From == "" || b.From < c.First
		l.Beyond = b.Until == "" || banner.DaysFrom(c.First, b.Until) >= c.Days
		if f, u, ok := b.Span(); ok {
			in, out := banner.Banner{Doc: banner.Doc{From: f, Until: u}}.Within(c.First, c.Days)
			l.In1, l.In2 = c.x(in), c.x(out)
		}
		r.Lines = append(r.Lines, l)
	}
	for _, s := range banner.Stretches(row.Banners, c.First, c.Days) {
		r.Coverage = append(r.Coverage, Covered{c.x(s.From), float64(s.Days) * c.Day, s.Banners})
	}
	return r
}

// Says tells a covered stretch in words.
func (c Covered) Says() string {
	if c.Banners == 0 {
		return "nothing runs"
	}
	return fmt.Sprintf("%d run", c.Banners)
}

// Monday is the Monday of a day's week, or of a week after or before it.
func Monday(day string, weeks int) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	back := (int(at.Weekday()) + 6) % 7
	return banner.DayAfter(day, 7*weeks-back)
}
