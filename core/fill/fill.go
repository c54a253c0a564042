// Package fill is what a sentence with places has: what each place can be filled with, what it is filled
// with, and whether that fits.
package fill

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"axtren/core/setup"
	"axtren/core/words"
)

// The kinds of place.
const (
	One       = "one"       // one of its choices
	Many      = "many"      // any of its choices
	Number    = "number"    // a figure, in its unit
	Positions = "positions" // one choice, or figure, for each of its names
	Text      = "text"      // what a person writes
	Truth     = "truth"     // one condition
	Truths    = "truths"    // one condition or more
	Rows      = "rows"      // records, one after the other, of as many values as it has columns
)

// Place is something that a sentence has to be told. Its values are texts: the value of a choice, a
// figure, a condition as the document writes it.
type Place struct {
	Key      string   `json:"key"`
	Label    string   `json:"label"`
	Kind     string   `json:"kind"`
	Of       string   `json:"of"` // the list that its choices are in, in the words of whoever gives them
	Values   []string `json:"values"`
	Choices  []Choice `json:"choices"` // of a number, and of what names a list: none
	Names    []string `json:"names"`   // of positions: what they are called; of rows: their columns
	From     string   `json:"from"`    // the place of rows whose first column are choices too; empty: none
	Unit     string   `json:"unit"`
	Least    float64  `json:"least"`
	Most     float64  `json:"most"`
	Optional bool     `json:"optional"` // it may be left empty

	Usual []string `json:"-"` // what a new one begins with
}

// Choice is something to choose.
type Choice struct {
	Value string   `json:"value"`
	Label string   `json:"label"`
	Names []string `json:"names,omitempty"` // of a switch: what its positions are called
	Usual []string `json:"usual,omitempty"` // what the place that follows from it begins with
	Says  string   `json:"says,omitempty"`  // what has to be known of it
}

// Filled is a sentence with what it was told.
type Filled struct {
	Kind   string `json:"kind"`
	Was    string `json:"was"` // the key of the one whose place it takes; empty: it is new
	Values Values `json:"values"`
}

// Values are what fills the places of a sentence, by their keys.
type Values map[string][]string

// One gives the only value of a place; empty where there is none.
func (v Values) One(key string) string {
	if len(v[key]) == 0 {
		return ""
	}
	return v[key][0]
}

// Number gives the figure of a place; 0 where there is none.
func (v Values) Number(key string) float64 {
	n, _ := strconv.ParseFloat(v.One(key), 64)
	return n
}

// Figure writes a figure as a value, with three decimals at most.
func Figure(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000, 'f', -1, 64) }

// ReadFigure reads a figure; ok is false where it is none.
func ReadFigure(text string) (v float64, ok bool) {
	v, err := strconv.ParseFloat(text, 64)
	return v, err == nil && !math.IsNaN(v) && !math.IsInf(v, 0)
}

// MostValues bounds what one place holds.
const MostValues = 64

// PositionsOf gives what the positions of a switch are called; none where a control has none.
func PositionsOf(s *setup.Setup, control string) []string {
	list := []string{}
	if at := s.Item(setup.ID(control)); at.Kind == setup.IsControl {
		if sw := s.Transmitter.Controls[at.Index].Switch; sw != nil {
			for _, name := range sw.Positions {
				list = append(list, name.Words())
			}
		}
	}
	return list
}

// Fault says that a place is not filled as it can be; path is that of the sentence.
func Fault(path string, place *Place, value, message, remedy string) error {
	return setup.Refused(path+"."+place.Key, value, message+": "+words.Small(place.Label), remedy)
}

// Check looks whether a place is filled with something that it can be. names are the positions of a place of
// positions. Conditions are looked at when the document is read.
func (p *Place) Check(path string, v Values, names int) error {
	given := v[p.Key]
	several := p.Kind == Many || p.Kind == Positions || p.Kind == Truths || p.Kind == Rows
	empty := len(given) == 0 || !several && given[0] == ""
	switch {
	case empty && p.Optional:
		return nil
	case empty || !several && len(given) != 1:
		return Fault(path, p, "", "is not chosen yet", "choose it")
	case len(given) > MostValues:
		return Fault(path, p, fmt.Sprint(len(given)), "are too many", fmt.Sprintf("use %d at most", MostValues))
	}
	switch p.Kind {
	case Number:
		return p.number(path, given[0])
	case Text:
		if len([]rune(given[0])) > words.LongestName {
			return Fault(path, p, given[0], "is too long", fmt.Sprintf("use %d letters at most", words.LongestName))
		}
		return nil
	case Truth, Truths:
		for _, one := range given {
			if one == "" {
				return Fault(path, p, "", "is not chosen yet", "move what it is, or choose it from the list")
			}
		}
		return nil
	case Rows:
		if len(given)%len(p.Names) != 0 {
			return Fault(path, p, fmt.Sprint(len(given)), "are not whole rows",
				fmt.Sprintf("give %d values for each", len(p.Names)))
		}
		return nil
	case Positions:
		if len(given) != names {
			return setup.Refused(path+"."+p.Key, fmt.Sprint(len(given)), "are not the positions of the switch",
				fmt.Sprintf("choose %d, one for each", names))
		}
		if len(p.Choices) == 0 {
			for _, one := range given {
				if err := p.number(path, one); err != nil {
					return err
				}
			}
			return nil
		}
	}
	for _, one := range given {
		if !slices.ContainsFunc(p.Choices, func(c Choice) bool { return c.Value == one }) {
			return setup.Refused(path+"."+p.Key, one, "cannot be chosen for "+words.Small(p.Label),
				"choose one from the list")
		}
	}
	return nil
}

func (p *Place) number(path, text string) error {
	n, ok := ReadFigure(text)
	if !ok || n < p.Least || n > p.Most {
		return setup.Refused(path+"."+p.Key, text, "is out of range: "+words.Small(p.Label),
			fmt.Sprintf("use %s to %s", words.Short(p.Least), words.Short(p.Most)))
	}
	return nil
}
