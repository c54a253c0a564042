// Package radio computes how far a radio reaches in water, and how deep a boat gets that is out of its reach.
package radio

import (
	"math"
	"math/cmplx"
)

// Constants of physics; c and μ0 as the SI has them.
const (
	lightMS  = 299_792_458.0    // m/s, exact
	vacuumFM = 8.8541878128e-12 // F/m, CODATA 2018
	gravity  = 9.80665          // m/s², standard
)

// Kind is a kind of water with how well it usually conducts, siemens a metre at 25 °C (common practice, no
// source), and its density, kg/m³.
type Kind struct {
	Key         string
	Least, Most float64
	Density     float64
}

// Kinds are the kinds of water that a setup can name.
var Kinds = []Kind{
	{"clear", 0.01, 0.03, 998},
	{"hard", 0.04, 0.1, 998},
	{"chlorinated", 0.1, 0.3, 998},
	{"brackish", 0.5, 2, 1008},
	{"salt", 3.5, 5.3, 1025},
}

// KindOf gives a kind of water by its key; ok is false where there is none.
func KindOf(key string) (k Kind, ok bool) {
	for _, k := range Kinds {
		if k.Key == key {
			return k, true
		}
	}
	return Kind{}, false
}

// warmer is by how much water conducts better for each degree, a share of what it does at 25 °C (common
// practice, no source: two in a hundred).
const warmer = 0.02

// At gives the conductivity at a temperature, °C, of water that has s at 25 °C.
func At(s, celsius float64) float64 { return s * (1 + warmer*(celsius-25)) }

// Permittivity gives the relative permittivity of water, ε' − jε″, at a frequency, MHz, a temperature, °C,
// and a conductivity, S/m: a Debye relaxation after Kaatze, J. Chem. Eng. Data 34 (1989) 371, with the
// conduction of what is dissolved (from memory). Salt lowers ε' by some hundredths, which is left out.
func Permittivity(mhz, celsius, conducts float64) complex128 {
	kelvin := celsius + 273.15
	still := math.Pow(10, 1.94404-1.991e-3*celsius)
	fast := 5.77 - 2.74e-2*celsius
	tau := 3.745e-15 * (1 + 7e-5*(kelvin-300.65)*(kelvin-300.65)) * math.Exp(2295.7/kelvin)
	omega := 2e6 * math.Pi * mhz
	e := complex(fast, 0) + complex(still-fast, 0)/complex(1, omega*tau)
	return e - complex(0, conducts/(omega*vacuumFM))
}

// Attenuation gives by how much a plane wave weakens, in nepers a metre: ω/c times the imaginary part of the
// root of the permittivity (Maxwell). Its inverse is the skin depth, m.
func Attenuation(mhz, celsius, conducts float64) float64 {
	omega := 2e6 * math.Pi * mhz
	return -omega / lightMS * imag(cmplx.Sqrt(Permittivity(mhz, celsius, conducts)))
}

// decibels are how many go to a neper: 20 / ln 10.
const decibels = 20 / math.Ln10

// Surface gives how much a wave loses that enters water straight from above, in dB.
func Surface(mhz, celsius, conducts float64) float64 {
	n := cmplx.Sqrt(Permittivity(mhz, celsius, conducts))
	back := cmplx.Abs((1 - n) / (1 + n))
	return -10 * math.Log10(1-back*back)
}

// QuarterMM is a quarter of the wave in free space, mm: c / 4f.
func QuarterMM(mhz float64) float64 { return lightMS / (4e6 * mhz) * 1000 }
