package sheet

import (
	"fmt"
	"slices"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/norm"

	"axtren/core/sheet"
)

// face is a pair of fonts, and which letters both have.
type face struct {
	regular, bold []byte
	has           func() func(r rune) bool
}

// The faces that a sheet can be set in: Atkinson Hyperlegible Next has the letters of
// western Europe, DejaVu Sans Condensed many more.
var (
	narrowFace = face{regular, bold, sync.OnceValue(func() func(rune) bool {
		return coverage(regular,
			bold)
	})}
	wideFace = face{wideRegular, wideBold,
		sync.OnceValue(func() func(rune) bool { return coverage(wideRegular, wideBold) })}
)

// coverage tells which letters all of some fonts have.
func coverage(fonts ...[]byte) func(r rune) bool {
	var parsed []*sfnt.Font
	for _, text := range fonts {
		font, err := sfnt.Parse(text)
		if err != nil {
			return func(rune) bool { return false } // it is embedded: a test has read it
		}
		parsed = append(parsed, font)
	}
	var mu sync.Mutex
	var buffer sfnt.Buffer
	known := map[rune]bool{}
	return func(r rune) bool {
		mu.Lock()
		defer mu.Unlock()
		there, ok := known[r]
		if !ok {
			there = true
			for _, font := range parsed {
				glyph, err := font.GlyphIndex(&buffer, r)
				there = there && err == nil && glyph != 0
			}
			if len(known) < 1<<16 {
				known[r] = there
			}
		}
		return there
	}
}

// joined are scripts that are written from the right, or whose letters join: the writer
// of paper sets letters one by one, from the left.
var joined = []*unicode.RangeTable{unicode.Arabic, unicode.Hebrew, unicode.Syriac, unicode.Thaana,
	unicode.Nko, unicode.Devanagari, unicode.Bengali, unicode.Tamil,
	unicode.Thai, unicode.Lao, unicode.Khmer, unicode.Myanmar, unicode.Tibetan, unicode.Mongolian}

// setter turns texts into what a face can set.
type setter struct {
	has func(r rune) bool
}

// signs are what some fonts have no sign for, written with signs that all have.
var signs = strings.NewReplacer("→", "to", "…", "...", "−", "-", "µ", "u", "Ω", "ohm", "³", "3", "×", "x",
	"≥", ">=",
	"\u00a0", " ")

// can tells whether a letter can be set. The writer of paper knows the basic plane alone.
func (s *setter) can(r rune) bool {
	return r <= 0xffff && s.has(r) && !unicode.In(r, joined...)
}

// plain gives a text as it is set; what cannot be set is a question mark, and said at
// the top of the sheet.
func (s *setter) plain(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case unicode.IsSpace(r):
			return ' '
		case unicode.IsControl(r):
			return -1
		case !s.can(r):
			return '?'
		}
		return r
	}, signs.Replace(norm.NFC.String(text)))
}

// missing lists the letters of a text that cannot be set, each once.
func (s *setter) missing(text string) []rune {
	var list []rune
	for _, r := range signs.Replace(norm.NFC.String(text)) {
		if !unicode.IsSpace(r) && !unicode.IsControl(r) && !s.can(r) && !slices.Contains(list, r) {
			list = append(list, r)
		}
	}
	return list
}

// placed is a text of a sheet with where it stands, in words that can be set.
type placed struct{ text, where string }

// texts lists every text of a sheet.
func texts(sh *sheet.Sheet) []placed {
	list := []placed{{sh.Name, "the name of the model"}, {sh.About, "what the model is"},
		{sh.Set, "the name of the transmitter"}, {sh.Saves, "how the transmitter keeps a change"}}
	for _, sec := range sh.Sections {
		for i, it := range sec.Items {
			where := fmt.Sprintf("%s, line %d", sec.Title, i+1)
			if it.Channel > 0 {
				where += fmt.Sprintf(", channel %d", it.Channel)
			}
			list = append(list, placed{it.What, where}, placed{it.Value, where}, placed{it.Note, where})
		}
	}
	return list
}

// faceFor chooses the face that texts are set in: the narrow one where it has all
// letters, or no fewer than the other.
func faceFor(texts []placed) (face, *setter) {
	count := func(s *setter) int {
		n := 0
		for _, one := range texts {
			n += len(s.missing(one.text))
		}
		return n
	}
	narrow, wide := &setter{narrowFace.has()}, &setter{wideFace.has()}
	if n := count(narrow); n == 0 || n <= count(wide) {
		return narrowFace, narrow
	}
	return wideFace, wide
}

// maxLost bounds the places that are named.
const maxLost = 12

// lost says which letters cannot be set, by their numbers, and on which lines; empty
// for none.
func (s *setter) lost(texts []placed) string {
	var numbers, places []string
	for _, one := range texts {
		missing := s.missing(one.text)
		if missing == nil {
			continue
		}
		if !slices.Contains(places, one.where) {
			places = append(places, one.where)
		}
		for _, r := range missing {
			if number := fmt.Sprintf("U+%04X", r); !slices.Contains(numbers, number) &&
				len(numbers) < maxLost {
				numbers = append(numbers, number)
			}
		}
	}
	if places == nil {
		return ""
	}
	more := ""
	if n := len(places) - maxLost; n > 0 {
		places, more = places[:maxLost], fmt.Sprintf("; and %d more", n)
	}
	return "Some letters cannot be set on paper here and stand as ? (" + strings.Join(numbers, ", ") +
		"). They are in: " + strings.Join(places, "; ") + more +
		". Read these lines on the screen, or on the carried file."
}
