package radio

import (
	"fmt"
	"math"
)

// Range is what something lies between; nothing is as sure as one figure.
type Range struct {
	Least float64 `json:"least"`
	Most  float64 `json:"most"`
}

// Air is a radio and the water that it has to reach into.
type Air struct {
	MHz      float64
	Water    Range   // S/m at 25 °C
	Celsius  float64 // of the water
	RangeM   float64 // how far it reaches in air, as its maker says
	AwayM    float64 // how far the model is from the hand
	Conducts string  // where the conductivity is from, in words
}

// What is doubted of a reach (our choice).
const (
	doubtRange = 0.5  // a range may be half of what its maker says
	doubtDB    = 10.0 // what an aerial under water loses that it was not made for, at most
)

// Reach gives how deep the radio reaches, metres: what is left of its power at that distance (the square of
// the range over the distance), less what the surface takes, over what a metre of water takes. why has the
// arithmetic of both ends.
func (a *Air) Reach() (depth Range, why []string) {
	one := func(rangeM, conducts, more float64) (float64, string) {
		conducts = At(conducts, a.Celsius)
		left := 20 * math.Log10(rangeM/a.AwayM)
		surface := Surface(a.MHz, a.Celsius, conducts)
		metre := decibels * Attenuation(a.MHz, a.Celsius, conducts)
		m := max(left-surface-more, 0) / metre
		taken := fmt.Sprintf("%.0f dB", surface)
		if more > 0 {
			taken += fmt.Sprintf(" and %.0f dB of the wet aerial", more)
		}
		return m,
			fmt.Sprintf("%.0f m of range and %.0f m away leave %.0f dB; the surface takes %s; a metre of water that "+
				"conducts %.3g S/m takes %.3g dB: %.2f m", rangeM, a.AwayM, left, taken, conducts, metre, m)
	}
	var least, most string
	depth.Least, least = one(a.RangeM*doubtRange, a.Water.Most, doubtDB)
	depth.Most, most = one(a.RangeM, a.Water.Least, 0)
	return depth, []string{"At least: " + least + ".", "At most: " + most + "."}
}
