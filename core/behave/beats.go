package behave

import (
	"math"

	"axtren/core/fill"
)

// beat is a usual way to flash.
type beat struct {
	key, label, says string
	steps            [][2]float64 // percent, seconds
}

// blinks are as many seconds lit as dark, so many times a minute.
func blinks(perMinute float64) [][2]float64 {
	half := math.Round(1000*30/perMinute) / 1000
	return [][2]float64{{100, half}, {-100, half}}
}

// flashesOf are short flashes with a pause after them, seconds.
func flashesOf(n int, lit, dark, pause float64) [][2]float64 {
	var list [][2]float64
	for k := range n {
		rest := dark
		if k == n-1 {
			rest = pause
		}
		list = append(list, [2]float64{100, lit}, [2]float64{-100, rest})
	}
	return list
}

// signals says that a lamp may mean something to others.
const signals = "On the water a flashing light means something to other vessels: show it only where " +
	"no one can take " +
	"the model for a vessel in command."

// emergency says the same of roads.
const emergency = "On a road flashing lights of this colour are for emergency vehicles only: use it " +
	"where no one can " +
	"take the model for one."

// beats are usual ways to flash. Direction indicators flash 90 times a minute, give or take 30: UN
// Regulation 6
// (from memory). A flashing light of a vessel flashes 120 times a minute or more: International
// Regulations for
// Preventing Collisions at Sea, 1972, rule 21 (from memory). The others are common practice, no source.
var beats = []beat{
	{"indicator", "direction indicator, 90 a minute", "", blinks(90)},
	{"slow", "warning lamp, once a second", "", blinks(60)},
	{"beacon", "turning beacon, twice a second", "", flashesOf(1, 0.12, 0, 0.38)},
	{"double", "double flash, once a second", emergency, flashesOf(2, 0.1, 0.12, 0.68)},
	{"triple", "triple flash, once a second", emergency, flashesOf(3, 0.08, 0.1, 0.56)},
	{"vessel", "flashing light of a vessel, 120 a minute", signals, blinks(120)},
	{"occulting", "harbour light: lit, with a short dark every 4 s", signals, [][2]float64{{100, 3}, {-100, 1}}},
	{"beam", "lighthouse: one flash every 5 s", signals, flashesOf(1, 0.5, 0, 4.5)},
}

// beatChoices gives the usual ways to flash, each with its rows.
func beatChoices() []fill.Choice {
	list := []fill.Choice{}
	for _, b := range beats {
		c := fill.Choice{Value: b.key, Label: b.label, Says: b.says}
		for _, step := range b.steps {
			c.Usual = append(c.Usual, fill.Figure(step[0]), fill.Figure(step[1]))
		}
		list = append(list, c)
	}
	return list
}
