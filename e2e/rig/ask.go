package rig

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
)

// Send asks the application as a page does, each time as an edit of its own, and gives what came
// back; header has names and values in turn. What is refused is an error.
func (a *App) Send(method, path, body string, header ...string) ([]byte, error) {
	r, err := http.NewRequest(method, a.URL+path, strings.NewReader(body))
	if err != nil {
		return nil, err
	}
	header = append([]string{"Axtren-Page", "rig", "Axtren-Edit", fmt.Sprint("rig", a.sent.Add(1)),
		"Content-Type", "application/octet-stream"}, header...)
	for i := 0; i+1 < len(header); i += 2 {
		r.Header.Set(header[i], header[i+1])
	}
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		return nil, err
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	if err == nil && answer.StatusCode >= http.StatusMultipleChoices {
		err = fmt.Errorf("%s %s: %s", method, path, text)
	}
	return text, err
}

// Make sends a document in as a new model, and gives its id.
func (a *App) Make(document string) (id string, err error) {
	text, err := a.Send("POST", "/api/models", document)
	if err != nil {
		return "", err
	}
	var model struct{ ID string }
	err = json.Unmarshal(text, &model)
	return model.ID, err
}

// Model gives the id of a model by its name.
func (a *App) Model(name string) (id string, err error) {
	text, err := a.Send("GET", "/api/models", "")
	if err != nil {
		return "", err
	}
	var models []struct{ ID, Name string }
	if err := json.Unmarshal(text, &models); err != nil {
		return "", err
	}
	for _, one := range models {
		if one.Name == name {
			return one.ID, nil
		}
	}
	return "", fmt.Errorf("there is no %s", name)
}

// Bench opens a bench of a model, by its id, and says hello.
func (a *App) Bench(ctx context.Context, id string) (*websocket.Conn, error) {
	url := strings.Replace(a.URL, "http", "ws", 1) + "/api/models/" + id + "/live"
	conn, _, err := websocket.Dial(ctx, url, nil)
	if err != nil {
		return nil, err
	}
	conn.SetReadLimit(4 << 20)
	hello := map[string]any{"t": "hello", "n": 1, "set": map[string]any{}}
	if err := wsjson.Write(ctx, conn, hello); err != nil {
		conn.CloseNow()
		return nil, err
	}
	return conn, nil
}
