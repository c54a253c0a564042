package signal_test

import (
	"fmt"

	"axtren/core/setup"
	"axtren/core/signal"
)

const rudder = `
format: axtren-setup
version: 1
transmitter: {controls: [{id: helm, kind: axis, label: Right stick, plus: right, minus: left}]}
demands: [{id: soft, from: helm, expo: 40}]
mixes: [{to: rudder, from: soft, gain: 80}]
outputs: [{id: rudder, label: Rudder, channel: 1, reverse: true, low: -90, high: 70}]
`

// A setup is compiled once; then frames are stepped, and any figure is explained.
func Example() {
	doc, err := setup.ReadYAML([]byte(rudder))
	if err != nil {
		panic(err)
	}
	p, err := signal.Compile(doc.Setup)
	if err != nil {
		panic(err)
	}
	st, hands := p.PowerOn(), p.Rest()
	helm, _ := p.Hand("helm")
	hands[helm] = 50
	p.Step(st, hands)
	fmt.Printf("%.1f µs\n", st.At(p.Routes[0].US))
	fmt.Print(p.Why(st, 0).Text())
	// Output:
	// 1374.0 µs
	//           Right stick                                                       = +50.0 %
	//         expo 40                          0.6 × 50.0 + 0.4 × 50.0³ / 10000   = +35.0 %
	//       gain 80                            35.0 × 80 / 100                    = +28.0 %
	//     reversed                             0 − 28.0                           = −28.0 %
	//   ends −90 … +70                         −28.0 / 100 × 90                   = −25.2 %
	// pulse                                    1500 − 25.2 × 5                    = 1374.0 µs
}

// A search keeps moments, and goes on from any of them.
func ExampleProgram_Restore() {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter: {controls: [{id: press, kind: switch, positions: [off, on], spring_to: off}]}
steppers: [{id: gear, up: press.on, steps: [{name: low, value: -100}, {name: high, value: 100}]}]
`))
	if err != nil {
		panic(err)
	}
	p, err := signal.Compile(doc.Setup)
	if err != nil {
		panic(err)
	}
	st, hands := p.PowerOn(), p.Rest()
	p.Step(st, hands)
	before := p.Snapshot(st, nil)
	hands[0] = 1
	p.Step(st, hands)
	fmt.Println("pressed:", st.At(p.StepperSlot(0)))
	p.Restore(st, before)
	p.Step(st, before.Hands(p))
	fmt.Println("not pressed:", st.At(p.StepperSlot(0)))
	// Output:
	// pressed: 1
	// not pressed: 0
}
