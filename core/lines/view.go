// Package lines reads a setup as lines: one output each, from the hand to the
// moving part. It says what stands at every joint, in words, where the joint's
// value is found in the running state, and which fields of the document an
// editor at that joint sets.
//
// A screen draws a View and nothing else; it computes nothing of the job.
package lines

import (
	"encoding/json"

	"axtren/core/signal"
)

// View is a whole model as lines.
type View struct {
	Name       string     `json:"name"`
	About      string     `json:"about"` // snow groomer · memory 3
	Set        string     `json:"set"`   // what the transmitter is called
	Kit        Kit        `json:"kit"`
	Controls   []Control  `json:"controls"`
	Power      []Control  `json:"power"`       // set, signal, receivers
	Sending    int        `json:"sending"`     // place of 1 while the set sends
	Up         int        `json:"up"`          // place of 1 while something arrives
	StartCheck []string   `json:"start_check"` // what the set waits for, in words
	Lines      []Line     `json:"lines"`
	Blocks     []Block    `json:"blocks"`
	Receivers  []Receiver `json:"receivers"`
	// the lists of what is behind, in the order in which they are shown
	Groups []Group       `json:"groups"`
	Behind []Behind      `json:"behind"` // the parts that are no line, in the order of the document
	Slots  []signal.Slot `json:"-"`      // of each value that a joint names
}

// Control is one control of the deck.
type Control struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Kind  string `json:"kind"` // axis or switch
	// axis: centre, low, none; switch: the position it springs to, or empty
	Spring    string   `json:"spring"`
	Stick     string   `json:"stick,omitempty"` // two axes of one stick share a pad
	Along     string   `json:"along,omitempty"` // x or y
	Lies      string   `json:"lies,omitempty"`  // left or right of the middle
	Form      string   `json:"form,omitempty"`  // wheel or trigger
	Plus      string   `json:"plus,omitempty"`
	Minus     string   `json:"minus,omitempty"`
	Positions []string `json:"positions,omitempty"`
	Words     []string `json:"words,omitempty"` // of each position, where a person says it in another way
	Rest      float64  `json:"rest"`            // percent, or the position from 0
	Value     int      `json:"value"`           // place of its number, percent, in the values
}

// Line is one row of the register.
type Line struct {
	ID       string   `json:"id"`
	Label    string   `json:"label"`
	Block    int      `json:"block"`    // the block that opens for it
	Phrase   string   `json:"phrase"`   // the run in one phrase
	Controls []string `json:"controls"` // the controls that it answers
	Ends     string   `json:"ends"`     // pin 3 · lift valve servo
	Pin      string   `json:"pin"`      // pin 3, in a word or two
	Part     string   `json:"part"`     // what hangs on it: Drives, Servos, Lamps and sounds ...
	Receiver string   `json:"receiver"` // what carries it
	Channel  int      `json:"channel"`
	P        int      `json:"p"`       // place of its position, percent, in the values
	Pulse    int      `json:"pulse"`   // place of its pulse, us
	Arrives  int      `json:"arrives"` // place of what its first pin gets, us; -1: no pin carries it
	Rule     Rule     `json:"rule"`
	Loss     []Field  `json:"loss"` // what it is to do when the signal is lost, and where it then goes
}

// Rule is the travel rule of a line: all in percent.
type Rule struct {
	From   float64  `json:"from"` // ends of the ruler
	To     float64  `json:"to"`
	Low    float64  `json:"low"`
	Centre float64  `json:"centre"`
	High   float64  `json:"high"`
	Wakes  float64  `json:"wakes"`          // where it stands after power-on with all at rest
	Loss   *float64 `json:"loss,omitempty"` // where it is to go when the signal is lost
	Marks  []Mark   `json:"marks"`
}

// Mark is a figure on the rule.
type Mark struct {
	At float64 `json:"at"` // percent
	US float64 `json:"us"`
}

// Block is what opens for a line: the line, or lines that share joints.
type Block struct {
	Title  string    `json:"title"`
	Note   string    `json:"note"` // one stick for both
	Chains [][]Joint `json:"chains"`
	// two chains that both reach both of two rows: they are drawn as they cross
	Crosses bool   `json:"crosses"`
	Share   *Joint `json:"share,omitempty"`
	Rows    []Row  `json:"rows"`
}

// Group is a list of parts that lie behind the lines, with the kinds that can be added.
type Group struct {
	List  string      `json:"list"`  // logic
	Title string      `json:"title"` // Rules
	Kinds []GroupKind `json:"kinds"` // one with an empty key where there is but one kind
}

// GroupKind is a kind of part that can be added.
type GroupKind struct {
	Key  string `json:"key"`  // r_trig
	Name string `json:"name"` // moment it becomes true
}

// Behind is a part that lies behind the lines, with what it does now.
type Behind struct {
	Part  string   `json:"part"`  // logic/horn
	Place string   `json:"place"` // in which it lives: rules
	Word  string   `json:"word"`  // block
	Label string   `json:"label"` // Horn
	Words string   `json:"words"` // on while all of these are
	Value int      `json:"value"` // place of what it holds; -1: nothing
	Unit  string   `json:"unit"`
	Names []string `json:"names,omitempty"`
	Lines []string `json:"lines"` // the lines that it acts on

	index int
}

// Row is the part of a block that belongs to one line.
type Row struct {
	Line   string  `json:"line"`
	Name   string  `json:"name"` // Port
	Joints []Joint `json:"joints"`
}

// Joint is one place of the run. Its value is Values[Value], or Text.
type Joint struct {
	Key     string   `json:"key"`     // out/port_track/ends; Explain takes it
	Caption string   `json:"caption"` // stops −96 … +94
	Value   int      `json:"value"`   // -1: none
	Unit    string   `json:"unit"`    // %, µs, on (0 or 100), step or empty
	Text    string   `json:"text"`
	Editor  *Editor  `json:"editor,omitempty"`
	Names   []string `json:"names,omitempty"` // what the values from 0 are called
	Parts   []Link   `json:"parts,omitempty"` // parts of the document that make this joint
	// of a feel with one: the places of what comes into it and out of it
	Curve []int    `json:"curve,omitempty"`
	Has   []string `json:"has,omitempty"` // the joints that are left out beside it; see drawn
	idle  bool     // it gives on what it gets, as it is now
}

// Link leads to a part of the document, in the place in which it lives.
type Link struct {
	Part  string `json:"part"` // devices/horn_board; Form takes it
	Name  string `json:"name"` // speed controller Horn board
	Place string `json:"place"`
}

// Editor is what can be changed at a joint.
type Editor struct {
	Title  string  `json:"title"`
	Note   string  `json:"note"` // on this set: stick forward 96, back 94
	Rule   string  `json:"rule"` // the line whose travel rule belongs here, empty for none
	Fields []Field `json:"fields"`
}

// Field is one value that can be changed. Number: Value, Min, Max, Step;
// YesNo: Value 0 or 1; Choice: Text, Choices. Set gives the patch that changes it.
type Field struct {
	At      string   `json:"at"`   // the key of its joint, or the part of its form
	Name    string   `json:"name"` // low, centre, high, gain ... unique in its editor
	Label   string   `json:"label"`
	Kind    string   `json:"kind"` // number, yes_no, choice
	Value   float64  `json:"value"`
	Text    string   `json:"text"`
	Usual   float64  `json:"-"` // what it is where the document says nothing
	Always  bool     `json:"-"` // has no usual value: the document must say it
	Min     float64  `json:"min"`
	Max     float64  `json:"max"`
	Step    float64  `json:"step"`
	Unit    string   `json:"unit"`
	Help    string   `json:"help,omitempty"` // what it is, in one sentence without a stop
	Choices []Choice `json:"choices,omitempty"`
	Targets []Target `json:"-"`
	Paths   []string `json:"paths"`   // of what it sets, as a problem names it
	Present bool     `json:"present"` // the document says it; else its default holds

	Optional bool            `json:"optional,omitempty"` // may be empty
	Seed     json.RawMessage `json:"-"`                  // YesNo for a group of fields: what it starts with
	// Rows: pairs, records, groups (by their first cell), plain
	Shape   string     `json:"shape,omitempty"`
	Columns []Field    `json:"columns,omitempty"`
	Rows    [][]string `json:"rows,omitempty"`
}

// Choice is one choice of a field.
type Choice struct {
	Value string          `json:"value"`
	Label string          `json:"label"`
	JSON  json.RawMessage `json:"-"` // what the document gets, where it is not the text
}

// Target is a place of the document that a field sets, to its value times Sign.
type Target struct {
	Pointer string // JSON Pointer of the field
	Path    string // the same as a problem names it
	ListID  string // id of the list element that holds it, to be tested before
	IDAt    string // JSON Pointer of that id
	Present bool   // the document says it; else its default holds
	Sign    float64
	Makes   []Made // what the document has to get first
}

// Made is a group, a list or an entry that has to be there before a field of it can be set.
type Made struct {
	Pointer string
	Value   any
}

// The kinds of field.
const (
	Number = "number"
	YesNo  = "yes_no"
	OneOf  = "choice"

	Words     = "text"
	Reference = "reference" // Text, with Choices for it; a number will do too
	Rows      = "rows"
	Written   = "written" // JSON as the document has it
)
