package translate

import (
	"strconv"
	"strings"

	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Told is a translation as a page has it.
type Told struct {
	Verdict string     `json:"verdict"` // holds, fails, undecided
	Known   bool       `json:"known"`   // whether it is known what entries the transmitter has
	Entries []ToldItem `json:"entries"`
	Lines   []string   `json:"lines"` // what was proved, or what to do to see where it differs, a sentence each
	Rests   []string   `json:"rests"` // what it rests on that is not known, and what to try
	Left    []string   `json:"left"`  // what the transmitter cannot do, a sentence each
	// what goes wrong where each rule is keyed in as it stands, a sentence each; empty: nothing, or not known
	Plain []string `json:"plain"`
}

// ToldItem is one entry in words.
type ToldItem struct {
	Name  string `json:"name"`  // Entry 7, At the surface
	Kind  string `json:"kind"`  // latch
	Takes string `json:"takes"` // set by entry 5, reset by not entry 6
}

// unknown says, of what is not known of a set, what it is and what to try to find it out.
var unknown = map[string]string{
	partOrder: "in which order it runs its entries (give one its own opposite as its input: where " +
		"that flickers, " +
		"it runs them by their numbers)",
	partBothTrue: "which side of a latch wins (hold its set and its reset together: where it is on, set does)",
	partSetOn: "whether a latch acts while something is held (hold its set, press its reset and let " +
		"go: where it " +
		"is on again, it does)",
	partThrown: "what a thrown switch does at power-on (turn the set on with it thrown: where something " +
		"happens, it counts as pressed)",
	partRemembers: "whether latches stay as they were (set one, turn the set off and on: where it " +
		"is on, they do)",
	partNegated: "whether an input can be turned round",
}

// Rests says what a translation rests on that is not known of the transmitter, and what to try, each as part
// of a sentence.
func (a *Answer) Rests() []string {
	list := []string{}
	for _, part := range a.RestsOn {
		list = append(list, unknown[part])
	}
	return list
}

// Items says the entries in words, each with the rules that it stands for.
func (a *Answer) Items(s *setup.Setup) []ToldItem {
	list := []ToldItem{}
	for i := range a.Entries {
		e := &a.Entries[i]
		one := ToldItem{Name: "Entry " + strconv.Itoa(e.N)}
		for k := range s.Logic {
			if a.StandsFor[s.Logic[k].ID] == e.N {
				one.Name += ", " + s.Named(s.Logic[k].ID)
			}
		}
		one.Kind, one.Takes = e.Words(s)
		list = append(list, one)
	}
	return list
}

// Tell says a translation for a page.
func (a *Answer) Tell(s *setup.Setup) Told {
	told := Told{Verdict: proof.Holds, Known: s.Transmitter.Can != nil && s.Transmitter.Can.Logic != nil,
		Entries: a.Items(s), Lines: []string{}, Rests: a.Rests(), Left: []string{},
		Plain: []string{}}
	if a.Plain != nil {
		told.Plain = a.Plain.says(s)
	}
	for _, left := range a.Left {
		told.Left = append(told.Left, left+".")
	}
	switch {
	case a.Undecided != "":
		told.Verdict = proof.Undecided
		told.Lines = append(told.Lines, words.Capital(a.Undecided)+".")
	case !a.Same:
		told.Verdict = proof.Fails
		told.Lines = append(proof.Moves(s, a.Rows), a.differs(s))
	case len(a.Entries) == 0:
		told.Lines = append(told.Lines, "No function looks at a rule: no entry is needed.")
	default:
		told.Lines = append(told.Lines, a.said())
	}
	return told
}

// said says what was proved, with how few entries, and of which kinds.
func (a *Answer) said() string {
	var kinds []string
	known := map[string]bool{}
	for i := range a.Entries {
		kind := a.Entries[i].Block
		if known[kind] {
			continue
		}
		known[kind] = true
		name := "latch"
		if kind != "sr" && kind != "rs" {
			name = setup.Blocks.Name(kind)
		}
		kinds = append(kinds, "“"+words.Small(name)+"”")
	}
	fewer := "Fewer may do it too: not all of them could be tried."
	if a.Fewest {
		fewer = "No fewer do it."
	}
	return words.Capital(words.Count(len(a.Entries), "entry does", "entries do")) +
		" what the rules say, whatever hands do: that is proved. " + fewer + " The kinds that it needs: " +
		words.And(kinds) + "."
}

// differs says when and which rules differ from their entries.
func (a *Answer) differs(s *setup.Setup) string {
	var names []string
	for _, id := range a.Differ {
		names = append(names, s.Named(id))
	}
	return words.Capital(proof.When(s, a.Rows,
		a.Frame)) + " the entry is not what the rule is: " + strings.Join(names, ", ") + "."
}

// apart gives the blocks that are not as their entries in the frame that shows it, and whether each entry is
// on then.
func (t *translation) apart(l *listed, v *proof.Verdict) map[setup.ID]bool {
	with, ids := l.blocks(t.s, t.set)
	p, err := t.set.compile(ids)(with)
	if err != nil {
		return nil
	}
	on := map[setup.ID]bool{}
	err = proof.Play(p, v.Rows, v.Frame, func(frame int, st *signal.State) bool {
		at := func(id setup.ID) float64 { return st.At(p.BlockSlot(with.Item(id).Index)) }
		for _, block := range sorted(l.of) {
			id, entry := t.s.Logic[block].ID, ids[l.of[block]]
			if frame == v.Frame && at(id) != at(entry) {
				on[id] = at(entry) != 0
			}
		}
		return true
	})
	if err != nil {
		return nil
	}
	return on
}

// says says what goes wrong with what most would key in.
func (u *Plain) says(s *setup.Setup) []string {
	var wrong []string
	for i := range s.Logic {
		if on, differs := u.On[s.Logic[i].ID]; differs {
			wrong = append(wrong,
				"“"+s.Named(s.Logic[i].ID)+"” is "+words.OnOff(on)+" and should be "+words.OnOff(!on))
		}
	}
	return append(proof.Moves(s, u.Rows), words.Capital(proof.When(s, u.Rows, u.Frame))+" "+words.And(wrong)+".")
}
