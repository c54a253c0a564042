package sheet

import (
	"encoding/base32"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/crc32"
	"strings"

	"axtren/core/sheet"
)

// The three things that are ticked for each thing on a sheet, in the order in which
// a code has them: all that were keyed, then all that were read back, then all seen.
const (
	Keyed = iota
	ReadBack
	Seen
)

// The columns of what is ticked in the file of a walk, in the order in which a code has them.
const (
	AsShould = iota
	Otherwise
)

// codeOf is what a code is of: how many columns it has, and the byte with which it begins.
type codeOf struct {
	columns int
	version byte
	anew    string // what to do with one of another version
}

// A sheet's code, and that of a walk. The keys of version 1 of a sheet were made of words.
var (
	ofSheet = codeOf{3, 2, "carry the sheet anew"}
	ofWalk  = codeOf{2, 3, "take the file of the walk anew"}
)

// Ticks are what was ticked on one sheet, by column and by the thing's place on it.
type Ticks struct {
	Revision int
	Since    int // the sheet had only what changed since this revision; 0: all
	Ticked   [][]bool
}

// TickError says why a code cannot be taken.
type TickError struct{ Message, Remedy string }

// Error says it in one line.
func (e *TickError) Error() string { return e.Message + "; " + e.Remedy }

// digits is the alphabet of Crockford's base 32: no I, L, O or U to misread.
var digits = base32.NewEncoding("0123456789ABCDEFGHJKMNPQRSTVWXYZ").WithPadding(base32.NoPadding)

// Thing is one thing of a carried sheet: what it is known by, and what it was called.
type Thing struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// Things lists what there is to tick on a sheet, in order.
func Things(sh *sheet.Sheet) []Thing {
	list := []Thing{}
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			list = append(list, Thing{it.Key, sec.Title + ", " + it.What})
		}
	}
	return list
}

// Mark is what a sheet is known by: a checksum over the model and the keys of its
// things, in order.
func Mark(model string, things []Thing) uint16 {
	crc := crc32.NewIEEE()
	crc.Write([]byte(model))
	for _, one := range things {
		crc.Write([]byte{0})
		crc.Write([]byte(one.Key))
	}
	return uint16(crc.Sum32())
}

// Code writes ticks as a code to type: version, revision, since, mark, the lengths
// of the runs of unticked and ticked boxes by turns, and a check sum of it all, in
// groups of four. A sheet that is ticked off throughout has 20 letters or so.
func Code(t *Ticks, mark uint16) string { return ofSheet.code(t, mark) }

// WalkCode is Code of a walk.
func WalkCode(t *Ticks, mark uint16) string { return ofWalk.code(t, mark) }

func (of codeOf) code(t *Ticks, mark uint16) string {
	b := binary.AppendUvarint([]byte{of.version}, uint64(t.Revision))
	b = binary.AppendUvarint(b, uint64(t.Since))
	b = binary.BigEndian.AppendUint16(b, mark)
	on, run := false, uint64(0)
	for _, column := range t.Ticked {
		for _, ticked := range column {
			if ticked != on {
				b = binary.AppendUvarint(b, run)
				on, run = ticked, 0
			}
			run++
		}
	}
	b = binary.AppendUvarint(b, run)
	b = binary.BigEndian.AppendUint16(b, uint16(crc32.ChecksumIEEE(b)))
	text := digits.EncodeToString(b)
	var groups []string
	for len(text) > 4 {
		groups, text = append(groups, text[:4]), text[4:]
	}
	return strings.Join(append(groups, text), "-")
}

var (
	errTyped = &TickError{"this code was not typed as it stands",
		"compare it letter by letter; there is no I, L, O or U in it"}
	errOlder = &TickError{"this code is of a sheet that an older Axtren wrote, which named its things by " +
		"their words", "carry the sheet anew and tick it once more"}
	errOther = &TickError{"this code is of another sheet",
		"take the code of a sheet that was carried from this model"}
)

// Head is what a code says of the sheet that it is of.
type Head struct {
	Revision, Since int
	Mark            uint16
}

// ReadHead reads which revision a code is of, since which its sheet told changes, and
// what that sheet is known by.
func ReadHead(code string) (Head, error) {
	h, _, err := ofSheet.head(code)
	return h, err
}

// head reads the head of a code and gives what follows it.
func (of codeOf) head(code string) (h Head, rest []byte, err error) {
	b, err := of.raw(code)
	if err != nil {
		return Head{}, nil, err
	}
	r, n := binary.Uvarint(b[1:])
	if n <= 0 || r == 0 || r >= 1<<31 {
		return Head{}, nil, errTyped
	}
	s, m := binary.Uvarint(b[1+n:])
	if m <= 0 || s > r {
		return Head{}, nil, errTyped
	}
	b = b[1+n+m:]
	if len(b) < 2 {
		return Head{}, nil, errTyped
	}
	return Head{int(r), int(s), binary.BigEndian.Uint16(b)}, b[2:], nil
}

// Read reads a code against the things of the sheet that it says it is of.
func Read(code, model string, things []Thing) (*Ticks, error) {
	return ofSheet.read(code, model, things)
}

// ReadWalk reads a code against the things of a walk, which is known by its own id.
func ReadWalk(code, walk string, things []Thing) (*Ticks, error) {
	return ofWalk.read(code, walk, things)
}

func (of codeOf) read(code, model string, things []Thing) (*Ticks, error) {
	h, b, err := of.head(code)
	if err != nil {
		return nil, err
	}
	if h.Mark != Mark(model, things) {
		return nil, errOther
	}
	n := len(things)
	t := &Ticks{Revision: h.Revision, Since: h.Since, Ticked: make([][]bool, of.columns)}
	var all []bool
	for on := false; len(b) > 0; on = !on {
		run, used := binary.Uvarint(b)
		if used <= 0 || run > uint64(of.columns*n-len(all)) {
			return nil, errTyped
		}
		b = b[used:]
		for range run {
			all = append(all, on)
		}
	}
	if len(all) != of.columns*n {
		return nil, errTyped
	}
	for c := range t.Ticked {
		t.Ticked[c] = all[c*n : (c+1)*n]
	}
	return t, nil
}

// raw takes a code apart: letters in either case, with what is easily misread put
// right, and what stands between groups left out.
func (of codeOf) raw(code string) ([]byte, error) {
	clean := strings.Map(func(r rune) rune {
		switch {
		case r == 'o' || r == 'O':
			return '0'
		case strings.ContainsRune("iIlL", r):
			return '1'
		case r >= 'a' && r <= 'z':
			return r - 'a' + 'A'
		case r >= '0' && r <= '9' || r >= 'A' && r <= 'Z':
			return r
		}
		return -1
	}, code)
	b, err := digits.DecodeString(clean)
	if err != nil || len(b) < 7 || digits.EncodeToString(b) != clean {
		return nil, errTyped
	}
	b, check := b[:len(b)-2], binary.BigEndian.Uint16(b[len(b)-2:])
	if uint16(crc32.ChecksumIEEE(b)) != check {
		return nil, errTyped
	}
	switch b[0] {
	case of.version:
		return b, nil
	case 1:
		return nil, errOlder
	case ofSheet.version:
		return nil, &TickError{"this is the code of a sheet", "bring it back in the place Sheet"}
	case ofWalk.version:
		return nil, &TickError{"this is the code of a walk on the bench",
			"bring it back in the place Bench, in that walk"}
	}
	return nil, &TickError{fmt.Sprintf("this code is of version %d, and %d is known here", b[0], of.version),
		of.anew}
}

// Open says what is not keyed, not read back or not seen, in words.
func (t *Ticks) Open(things []Thing) []string {
	list := []string{}
	for n, one := range things {
		var missing []string
		for c, word := range []string{"keyed", "read back", "seen"} {
			if !t.Ticked[c][n] {
				missing = append(missing, word)
			}
		}
		if missing != nil {
			list = append(list, one.Words+": not "+strings.Join(missing, ", not "))
		}
	}
	return list
}

// Count counts the ticks of a column.
func (t *Ticks) Count(column int) int {
	n := 0
	for _, ticked := range t.Ticked[column] {
		if ticked {
			n++
		}
	}
	return n
}

// IsTickError tells whether an error is a person's, not ours.
func IsTickError(err error) (*TickError, bool) {
	var own *TickError
	return own, errors.As(err, &own)
}
