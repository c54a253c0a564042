package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"strings"
	"unicode"
	"unicode/utf8"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/signal"
)

// ListRecordings gives what hands did to a model.
func (m *models) ListRecordings(ctx context.Context,
	r contract.ListRecordingsRequestObject) (contract.ListRecordingsResponseObject, error) {
	if _, err := m.store.Head(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := m.store.Recordings(ctx, r.Id)
	out := contract.ListRecordings200JSONResponse{}
	for i := range list {
		out = append(out, recordingOf(&list[i]))
	}
	return out, err
}

func recordingOf(r *store.Recording) contract.Recording {
	return contract.Recording{Id: r.ID, Name: r.Name, MadeAt: r.MadeAt, Exact: r.Exact}
}

// KeepRecording keeps a script that the model can play.
func (m *models) KeepRecording(ctx context.Context,
	r contract.KeepRecordingRequestObject) (contract.KeepRecordingResponseObject, error) {
	_, p, err := m.playable(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	text, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	if err := checkScript(p, r.Params.Name, text); err != nil {
		return nil, err
	}
	kept, err := m.store.KeepRecording(ctx, r.Id, store.Recording{Name: r.Params.Name,
		Exact: r.Params.Exact != nil && *r.Params.Exact, Script: string(text)})
	if err != nil {
		return nil, err
	}
	return contract.KeepRecording201JSONResponse(recordingOf(kept)), nil
}

// checkScript refuses what is no script for a model, and a name that is none.
func checkScript(p *signal.Program, name string, text []byte) error {
	if name == "" || utf8.RuneCountInString(name) > maxRecordingName ||
		strings.ContainsFunc(name, unicode.IsControl) {
		return refuse(http.StatusUnprocessableEntity, "This is no name of a recording",
			fmt.Sprintf("use 1 to %d letters in one line", maxRecordingName))
	}
	if len(text) > maxScript {
		return refuse(http.StatusUnprocessableEntity, "The recording "+name+" is too large",
			fmt.Sprintf("keep it below %d bytes", maxScript))
	}
	sc := signal.NewScript(bytes.NewReader(text), p)
	for {
		if _, err := sc.Next(); errors.Is(err, io.EOF) {
			return nil
		} else if err != nil {
			return refuse(http.StatusUnprocessableEntity,
				"The recording "+name+" is no script for this model", err.Error())
		}
	}
}

// maxRecordingName bounds the name of a recording, in letters.
const maxRecordingName = 80

// GetRecording gives the script of one.
func (m *models) GetRecording(ctx context.Context,
	r contract.GetRecordingRequestObject) (contract.GetRecordingResponseObject, error) {
	one, err := m.store.Recording(ctx, r.Id, r.Recording)
	if err != nil {
		return nil, err
	}
	disposition := `attachment; filename="` + fileName(one.Name) + `.script.csv"`
	return contract.GetRecording200TextcsvResponse{Body: strings.NewReader(one.Script),
		ContentLength: int64(len(one.Script)),
		Headers:       contract.GetRecording200ResponseHeaders{ContentDisposition: &disposition}}, nil
}

// DropRecording throws one away.
func (m *models) DropRecording(ctx context.Context,
	r contract.DropRecordingRequestObject) (contract.DropRecordingResponseObject, error) {
	return contract.DropRecording204Response{}, m.store.DropRecording(ctx, r.Id, r.Recording)
}
