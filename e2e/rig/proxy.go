package rig

import (
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"sync"
	"time"
)

// Proxy stands between a page and the application: everything takes a while, and
// the connections can be dropped.
type Proxy struct {
	URL string

	delay  time.Duration // one way
	mu     sync.Mutex
	conns  map[net.Conn]struct{}
	front  net.Listener
	inside *httptest.Server
}

// NewProxy starts a proxy before the application at target.
func NewProxy(target string, delay time.Duration) (*Proxy, error) {
	to, err := url.Parse(target)
	if err != nil {
		return nil, err
	}
	p := &Proxy{delay: delay, conns: map[net.Conn]struct{}{}}
	p.inside = httptest.NewServer(&httputil.ReverseProxy{
		Rewrite: func(r *httputil.ProxyRequest) {
			r.SetURL(to)
			r.Out.Host = to.Host
			if r.Out.Header.Get("Origin") != "" {
				r.Out.Header.Set("Origin", target)
			}
		},
		ErrorHandler: func(w http.ResponseWriter, _ *http.Request,
			_ error) {
			w.WriteHeader(http.StatusBadGateway)
		},
	})
	if p.front, err = net.Listen("tcp4", "127.0.0.1:0"); err != nil {
		p.inside.Close()
		return nil, err
	}
	p.URL = "http://" + p.front.Addr().String()
	go p.accept()
	return p, nil
}

func (p *Proxy) accept() {
	for {
		page, err := p.front.Accept()
		if err != nil {
			return
		}
		server, err := net.Dial("tcp", p.inside.Listener.Addr().String())
		if err != nil {
			page.Close()
			continue
		}
		p.mu.Lock()
		p.conns[page], p.conns[server] = struct{}{}, struct{}{}
		p.mu.Unlock()
		go p.carry(page, server)
		go p.carry(server, page)
	}
}

// carry brings what comes from one end to the other, each piece as late as the
// delay says and all in order.
func (p *Proxy) carry(to io.WriteCloser, from io.Reader) {
	type piece struct {
		due  time.Time
		text []byte
	}
	queue := make(chan piece, 4096)
	go func() {
		for one := range queue {
			time.Sleep(time.Until(one.due))
			if _, err := to.Write(one.text); err != nil {
				break
			}
		}
		to.Close()
	}()
	buffer := make([]byte, 64<<10)
	for {
		n, err := from.Read(buffer)
		if n > 0 {
			queue <- piece{time.Now().Add(p.delay), append([]byte(nil), buffer[:n]...)}
		}
		if err != nil {
			close(queue)
			return
		}
	}
}

// Drop cuts every connection that there is.
func (p *Proxy) Drop() {
	p.mu.Lock()
	defer p.mu.Unlock()
	for conn := range p.conns {
		conn.Close()
		delete(p.conns, conn)
	}
}

// Close ends the proxy.
func (p *Proxy) Close() {
	p.front.Close()
	p.Drop()
	p.inside.Close()
}
