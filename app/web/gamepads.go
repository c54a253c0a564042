package web

import (
	"context"
	"encoding/json"
	"net/http"

	"axtren/app/contract"
)

// maxBindings bounds a mapping: a set has at most 64 controls.
const maxBindings = 64

// GetGamepad gives what moves what.
func (m *models) GetGamepad(ctx context.Context,
	r contract.GetGamepadRequestObject) (contract.GetGamepadResponseObject, error) {
	text, err := m.store.Gamepad(ctx, r.Params.Set)
	if err != nil {
		return nil, err
	}
	mapping := contract.GetGamepad200JSONResponse{}
	return mapping, json.Unmarshal([]byte(text), &mapping)
}

// KeepGamepad keeps it for the transmitter.
func (m *models) KeepGamepad(ctx context.Context,
	r contract.KeepGamepadRequestObject) (contract.KeepGamepadResponseObject, error) {
	if len(*r.Body) > maxBindings {
		return nil, refuse(http.StatusUnprocessableEntity, "This is no mapping of a set",
			"a set has at most 64 controls")
	}
	text, err := json.Marshal(r.Body)
	if err != nil {
		return nil, err
	}
	return contract.KeepGamepad204Response{}, m.store.KeepGamepad(ctx, r.Params.Set, string(text))
}
