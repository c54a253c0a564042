// Package wiring is the leads of a model and the power in them: who feeds whom, the current of each
// feed at work and with everything stalled, the volts that are left at the receiver, and how the
// leads are drawn. Every figure comes with its arithmetic.
package wiring

import "math"

// resistivity is that of annealed copper at 20 °C, ohm metres: IEC 60028 (1925).
const resistivity = 1.7241e-8

// Diameter gives the diameter of a wire of an American gauge, millimetres: ASTM B258 (from memory),
// 0.127 × 92^((36 − n)/39).
func Diameter(awg float64) float64 { return 0.127 * math.Pow(92, (36-awg)/39) }

// Resistance gives the resistance of a lead there and back, ohms; 0 where its length or its gauge is
// not known.
func Resistance(lengthMM, awg float64) float64 {
	if lengthMM <= 0 || awg <= 0 {
		return 0
	}
	d := Diameter(awg) / 1000
	return 2 * resistivity * lengthMM / 1000 / (math.Pi * d * d / 4)
}
