package radio

import (
	"fmt"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/words"
)

// Bar is something that lies in a range.
type Bar struct {
	Label string   `json:"label"`
	Says  string   `json:"says"` // 0.4 to 0.9 m
	Least float64  `json:"least"`
	Most  float64  `json:"most"`
	Unit  string   `json:"unit"`
	Open  bool     `json:"open"` // nobody can say how far it goes on
	Why   []string `json:"why"`
}

// Told is what is said of a model that goes under water.
type Told struct {
	Missing []string `json:"missing"` // what has to be said first, a sentence each
	Bars    []Bar    `json:"bars"`
	Says    []string `json:"says"`
}

// Goes tells whether a craft can come to lie under water, or under spray.
func Goes(s *setup.Setup) bool {
	return s.Under != nil || slices.Contains([]string{"boat", "submarine", "amphibian"}, s.Craft.Kind)
}

// shallow is below which depth of reach a signal is taken to end where the aerial goes under, m.
const shallow = 0.3

// Of works out what is known of a model under water: docs/format.md, section 33.
func Of(s *setup.Setup) Told {
	t := Told{Missing: []string{}, Bars: []Bar{}, Says: []string{}}
	u := s.Under
	if u == nil {
		t.Missing = append(t.Missing, "Say what it dives in, and how it goes down.")
		return t
	}
	if s.Link.MHz == 0 {
		t.Missing = append(t.Missing, "Say the band of the radio, under The link and its delays.")
		return t
	}
	t.aerial(s.Link.MHz)
	lost := t.reach(s, u)
	if lost == nil {
		return t
	}
	t.down(s, u, *lost)
	return t
}

func (t *Told) aerial(mhz float64) {
	quarter := QuarterMM(mhz)
	if quarter < 500 {
		t.Says = append(t.Says,
			fmt.Sprintf("A quarter of the wave on %s MHz is %.0f mm: bare so much of the aerial's core, "+
				"upright, clear of metal and of the cells, and as high as it may stand.", words.Short(mhz), quarter))
		return
	}
	t.Says = append(t.Says,
		fmt.Sprintf("A quarter of the wave on %s MHz is %.2f m: leave the receiver's wire as long as it "+
			"came, stretched out, and never coiled up.", words.Short(mhz), quarter/1000))
}

// reach says how deep the radio reaches, and gives how deep the deck then is; nil where that is not known.
func (t *Told) reach(s *setup.Setup, u *setup.Under) *Range {
	kind, _ := KindOf(u.Water)
	air := Air{MHz: s.Link.MHz, Water: Range{kind.Least, kind.Most}, Celsius: u.TemperatureC, AwayM: u.AwayM}
	if c := u.ConductivitySM; c != nil {
		air.Water = Range{c.Least, c.Most}
	}
	can := s.Transmitter.Can
	if can == nil || can.RangeM == nil || *can.RangeM <= 0 {
		t.Missing = append(t.Missing, "Say how far the transmitter reaches in air, in Kit.")
		return nil
	}
	air.RangeM = *can.RangeM
	depth, why := air.Reach()
	t.bar("The signal reaches down", depth, "m", why)
	above := u.AerialMM / 1000
	lost := Range{depth.Least + above, depth.Most + above}
	t.bar("The deck is then under by", lost, "m",
		[]string{fmt.Sprintf("The tip of the aerial stands %.0f mm above it.",
			u.AerialMM)})
	if depth.Most < shallow {
		t.Says = append(t.Says,
			"On this band the signal ends about where the aerial goes under: what the boat does on a "+
				"lost signal decides how deep it gets.")
	}
	return &lost
}

// down says how deep it gets after the signal is lost, and when it is back.
func (t *Told) down(s *setup.Setup, u *setup.Under, lost Range) {
	for _, one := range []struct {
		known bool
		says  string
	}{{u.SinksMMS != nil, "Say how fast it goes down."}, {u.MassKG > 0, "Say its mass."},
		{u.AreaCM2 > 0 && u.Drag != nil,
			"Say its area from above and its drag, or a wide range of it: 0.5 to 1.5."},
		{u.BlowS != nil || u.BlownML == 0, "Say how long its tank takes."}} {
		if !one.known {
			t.Missing = append(t.Missing, one.says)
		}
	}
	if len(t.Missing) > 0 {
		return
	}
	kind, _ := KindOf(u.Water)
	d := Dive{Sinks: Range{u.SinksMMS.Least / 1000, u.SinksMMS.Most / 1000}, MassKG: u.MassKG,
		Density: kind.Density,
		BlownM3: u.BlownML / 1e6, LightM3: u.LightML / 1e6, CoastS: u.CoastS, AreaM2: u.AreaCM2 / 1e4,
		Drag: Range{u.Drag.Least, u.Drag.Most}}
	if u.BlowS != nil {
		d.BlowS = Range{u.BlowS.Least, u.BlowS.Most}
	}
	for i := range s.Receivers {
		d.LossS = max(d.LossS, s.Receivers[i].LossAfterS)
	}
	deep := d.Down()
	if deep.Never && deep.Depth == (Range{}) {
		t.Says = append(t.Says, deep.Why...)
		t.Bars = append(t.Bars, Bar{Label: "The deck gets down to", Says: "nobody can say how deep",
			Unit: "m", Open: true,
			Why: deep.Why})
		return
	}
	t.bar("The deck gets down to", Range{lost.Least + deep.Depth.Least, lost.Most + deep.Depth.Most}, "m",
		deep.Why)
	t.Bars[len(t.Bars)-1].Open = deep.Never
	t.bar("The signal is back after", deep.Back, "s",
		[]string{"From when it was lost until the boat is as high again."})
	t.Bars[len(t.Bars)-1].Open = deep.Never
}

// bar adds a range, written as coarsely as it is known.
func (t *Told) bar(label string, r Range, unit string, why []string) {
	digits := 1
	if unit == "m" && r.Most < 10 {
		digits = 2
	}
	least, most := fmt.Sprintf("%.*f", digits, r.Least), fmt.Sprintf("%.*f", digits, r.Most)
	says := least + " to " + most + " " + unit
	if least == most {
		says = "about " + most + " " + unit
	}
	t.Bars = append(t.Bars, Bar{Label: label, Says: says, Least: round(r.Least), Most: round(r.Most),
		Unit: unit, Why: why})
}

func round(v float64) float64 { return math.Round(v*1000) / 1000 }
