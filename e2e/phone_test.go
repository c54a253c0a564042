package e2e

import (
	"context"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os/exec"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// listens starts an application that lets phones in on another loopback address,
// as it would on one of the person's own network.
func listens(t *testing.T) *person {
	app, err := rig.StartListening(binary, strings.ReplaceAll(t.Name(), "/", "-"), "127.0.0.2")
	require.NoError(t, err)
	t.Cleanup(func() {
		require.NoError(t, app.Stop(), app.Log())
		require.NotContains(t, app.Log(), "ERROR")
	})
	require.Contains(t, app.Log(), "only in a network that you trust")
	page, err := browser.NewPage(1280, 800)
	require.NoError(t, err)
	t.Cleanup(page.Close)
	p := &person{t, app, page}
	p.goes(page.Go(app.URL))
	return p
}

// TestAPhoneIsLetInAndSentAway: the laptop shows a code, the phone gives it and uses
// Axtren as on loopback, until it is taken back: then its open bench ends.
func TestAPhoneIsLetInAndSentAway(t *testing.T) {
	p := listens(t)
	p.chooses("[aria-label='More for all models']", "Let a phone in")
	p.presses("Show a code")
	p.sees("document.querySelector('.code img').naturalWidth > 200")
	p.clean("phones")
	code := p.reads(".code .big")
	require.Regexp(t, "^[2-9A-Z]{4}-[2-9A-Z]{4}$", code)

	page, err := browser.NewPage(390, 844)
	p.goes(err)
	t.Cleanup(page.Close)
	phone := &person{t, p.app, page}
	p.goes(page.Go(p.app.Afar() + "/models"))
	phone.sees("location.pathname === '/pair'")
	phone.sees(shows("p", "not encrypted"))
	phone.clean("pairing")
	p.goes(page.Go(p.app.Afar() + "/pair?code=" + code)) // as the picture says
	phone.sees("document.querySelector('input').value.length === 9")
	phone.clicks("button")
	phone.sees("document.querySelectorAll('main li h2').length === 7")
	phone.sees("!document.body.innerText.includes('Phones')")
	phone.opens()
	phone.clicks(".railButton")
	phone.clicks("nav a[href$=stage]")
	phone.sees("document.querySelector('.dock svg')")
	p.goes(page.Drag("[data-stick='Right stick']", 0, -40, false))
	phone.sees(shows(".dock", "Ahead"))
	p.goes(page.Release())
	cookie, err := rig.Eval[string](page, "document.cookie")
	p.goes(err)
	require.Empty(t, cookie, "scripts do not see it")

	p.sees(shows("[role=dialog] li", "let in"))
	p.clicks("[aria-label^='Take back']")
	p.sees(shows("[role=dialog]", "No phone yet."))
	phone.sees(shows(".state", "not connected"))
	p.goes(page.Go(p.app.Afar() + "/"))
	phone.sees("location.pathname === '/pair'")
}

// TestWhoeverIsNotLetInGetsNothing: forged and old cookies, foreign names, other
// sites, the API, the socket, wrong codes.
func TestWhoeverIsNotLetInGetsNothing(t *testing.T) {
	p := listens(t)
	afar := p.app.Afar()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	client := &http.Client{Jar: jar, Timeout: 10 * time.Second,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	ask := func(method, path, body string, change func(*http.Request)) (int, string) {
		t.Helper()
		r, err := http.NewRequest(method, afar+path, strings.NewReader(body))
		require.NoError(t, err)
		if method == http.MethodPost {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		if change != nil {
			change(r)
		}
		answer, err := client.Do(r)
		require.NoError(t, err)
		defer answer.Body.Close()
		text, _ := io.ReadAll(answer.Body)
		return answer.StatusCode, string(text)
	}
	is := func(want int, method, path string, change func(*http.Request)) {
		t.Helper()
		status, text := ask(method, path, "", change)
		require.Equal(t, want, status, "%s %s: %s", method, path, text)
	}
	forged := func(r *http.Request) {
		r.AddCookie(&http.Cookie{Name: "axtren_phone", Value: strings.Repeat("A", 43)})
	}
	is(http.StatusSeeOther, http.MethodGet, "/", nil)
	is(http.StatusSeeOther, http.MethodGet, "/", forged)
	is(http.StatusUnauthorized, http.MethodGet, "/api/models", nil)
	is(http.StatusUnauthorized, http.MethodGet, "/api/models", forged)
	is(http.StatusUnauthorized, http.MethodGet, "/api/models/"+firstModel(t, p.app)+"/live", forged)
	is(http.StatusForbidden, http.MethodGet, "/api/phones", nil)
	is(http.StatusForbidden, http.MethodPost, "/api/phones/code", nil)
	is(http.StatusMisdirectedRequest, http.MethodGet, "/pair",
		func(r *http.Request) { r.Host = "example.net" })
	is(http.StatusMisdirectedRequest, http.MethodGet, "/pair",
		func(r *http.Request) { r.Host = strings.TrimPrefix(p.app.URL, "http://") })
	is(http.StatusForbidden, http.MethodPost, "/pair",
		func(r *http.Request) { r.Header.Set("Origin", "http://example.net") })

	// no code was shown yet
	status, text := ask(http.MethodPost, "/pair", "code=AAAA-AAAA", nil)
	require.Equal(t, http.StatusForbidden, status)
	require.Contains(t, text, "No code counts just now")
	time.Sleep(1100 * time.Millisecond)
	r, err := http.Post(p.app.URL+"/api/phones/code", "", nil)
	require.NoError(t, err)
	told, _ := io.ReadAll(r.Body)
	r.Body.Close()
	code := regexp.MustCompile(`"code":"([^"]+)"`).FindStringSubmatch(string(told))[1]
	status, text = ask(http.MethodPost, "/pair", "code=AAAA-AAAA", nil)
	require.Equal(t, http.StatusForbidden, status)
	require.Contains(t, text, "wait 2 s", "wrong tries are slowed down")
	status, text = ask(http.MethodPost, "/pair", "code="+code, nil)
	require.Equal(t, http.StatusForbidden, status, "not even the right one meanwhile")
	require.Contains(t, text, "Too many wrong codes")
	time.Sleep(2100 * time.Millisecond)
	status, _ = ask(http.MethodPost, "/pair", "code="+strings.ToLower(code), nil)
	require.Equal(t, http.StatusSeeOther, status)
	is(http.StatusOK, http.MethodGet, "/", nil)
	is(http.StatusOK, http.MethodGet, "/api/models", nil)
	is(http.StatusForbidden, http.MethodGet, "/api/phones", nil)
	at, _ := url.Parse(afar)
	kept := jar.Cookies(at)
	require.Len(t, kept, 1)

	// the socket takes the cookie, and ends when the phone is sent away
	header := http.Header{"Cookie": {kept[0].Name + "=" + kept[0].Value}, "Origin": {afar}}
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	conn, _, err := websocket.Dial(ctx, strings.Replace(afar, "http", "ws", 1)+"/api/models/"+firstModel(t,
		p.app)+"/live", &websocket.DialOptions{HTTPHeader: header})
	require.NoError(t, err)
	defer conn.CloseNow()
	r, err = http.Get(p.app.URL + "/api/phones")
	require.NoError(t, err)
	told, _ = io.ReadAll(r.Body)
	r.Body.Close()
	id := regexp.MustCompile(`"id":"([^"]+)"`).FindStringSubmatch(string(told))[1]
	drop, _ := http.NewRequest(http.MethodDelete, p.app.URL+"/api/phones/"+id, nil)
	r, err = http.DefaultClient.Do(drop)
	require.NoError(t, err)
	r.Body.Close()
	require.Equal(t, http.StatusNoContent, r.StatusCode)
	_, _, err = conn.Read(ctx)
	require.Error(t, err)
	require.NoError(t, ctx.Err(), "the bench of the phone ends at once")
	is(http.StatusUnauthorized, http.MethodGet, "/api/models", nil)
}

// TestNoPhoneIsLetInUnlessAsked, and never on an address that anybody may reach.
func TestNoPhoneIsLetInUnlessAsked(t *testing.T) {
	p := sit(t)
	p.chooses("[aria-label='More for all models']", "Let a phone in")
	p.sees(shows("[role=dialog]", "--listen "))
	r, err := http.Post(p.app.URL+"/api/phones/code", "", nil)
	require.NoError(t, err)
	r.Body.Close()
	require.Equal(t, http.StatusConflict, r.StatusCode)
	for _, address := range []string{"0.0.0.0", "203.0.113.7", "::", "here"} {
		out, err := exec.Command(binary, "demo", "--port", "0", "--data", t.TempDir(), "--listen",
			address).CombinedOutput()
		require.Error(t, err)
		require.Contains(t, string(out), "is no address of a network of your own", address)
	}
}
