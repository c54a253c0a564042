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

// A program prints itself: what each instruction gives and reads, by name.
func ExampleProgram_String() {
	doc, err := setup.ReadYAML([]byte(`
format: axtren-setup
version: 1
transmitter: {controls: [{id: helm, kind: axis}, {id: press, kind: switch, positions: [off, on]}]}
demands: [{id: soft, from: helm, expo: 40}]
logic: [{id: slow, block: toggle, in: press.on}]
mixes: [{to: rudder, from: soft, gain: 80}, {to: rudder, from: 50, combine: times, when: slow}]
outputs: [{id: rudder, channel: 1, reverse: true, slew_s: 2}]
receivers: [{id: rx, pins: [{pin: 4, channel: 1}]}]
devices: [{id: tiller, on: rx.4, kind: servo}]
`))
	if err != nil {
		panic(err)
	}
	p, err := signal.Compile(doc.Setup)
	if err != nil {
		panic(err)
	}
	fmt.Print(p)
	// Output:
	// 0 demand     soft expo <- helm
	//   1 is         #21 <- press  x=1
	//   2 toggle     slow value*, slow input* <- #21, 0
	//   3 sum        #22, rudder sum <- soft expo, 50, slow value*
	//   4 output     rudder asked, rudder turned, rudder target, rudder p*, rudder us <- rudder sum
	//   5 receiver   rx heard*, rx lost*, rx.4 us* <- rx, something arrives, rudder us
	//   6 device     tiller position*, tiller known* <- rx.4 us*
}
