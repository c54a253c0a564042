package live

import (
	"axtren/app/contract"
	"axtren/core/setup"
)

// aloneFeature lets one function alone move, while it is on the stand.
type aloneFeature struct{}

func (aloneFeature) take(b *bench, msg *contract.Asked) {
	if msg.Output != nil {
		b.session.Alone(setup.ID(*msg.Output))
	}
}

func (aloneFeature) next(*bench) (*contract.Told, func()) { return nil, nil }
