package stage

import (
	"fmt"
	"math"
)

// rowWords say what each part in the row does, in the order of the parts.
func (g *Stage) rowWords(st *State) []string {
	list := []string{}
	for i := range g.parts {
		if p := &g.parts[i]; g.inRow(p) {
			list = append(list, p.says(st.now[i]))
		}
	}
	return list
}

// says tells in a few words what a part does.
func (p *part) says(now pose) string {
	switch {
	case !p.driven():
		return "nothing moves it yet"
	case now.flags&Lost != 0:
		return "no signal"
	case now.flags&Unknown != 0:
		return "not known yet"
	case p.spec.Part == "pump" && now.at == 0:
		return "stands"
	case p.spec.Part == "pump":
		return fmt.Sprintf("runs at %.0f", math.Abs(now.at))
	}
	word := p.figure(now.at)
	switch {
	case now.flags&Pushes != 0:
		return word + ", pushes at its stop"
	case now.flags&AtStop != 0:
		return word + ", at its stop"
	}
	return word
}

// figure writes where a part is as its movement is spoken of.
func (p *part) figure(at float64) string {
	switch p.moves {
	case turns:
		switch {
		case at == 0:
			return "stands"
		case at > 0:
			return fmt.Sprintf("ahead %.0f", at)
		}
		return fmt.Sprintf("back %.0f", -at)
	case swings:
		return whole(at) + "°"
	case slides:
		return whole(at) + " mm"
	case dials:
		if at > 0 {
			return "+" + whole(at)
		}
		return whole(at)
	case steps:
		return fmt.Sprintf("step %.0f", at)
	case shines:
		if at != 0 {
			return "on"
		}
		return "off"
	}
	return ""
}

// whole writes a figure without decimals, with a real minus sign.
func whole(v float64) string {
	if v = math.Round(v); v < 0 {
		return fmt.Sprintf("−%.0f", -v)
	}
	return fmt.Sprintf("%.0f", v+0)
}
