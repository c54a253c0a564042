package web

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"unicode/utf8"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/labstack/echo/v5"

	"axtren/app/contract"
)

// routes finds what the contract says of a request. The contract is read once: that takes longer than most
// requests do.
var routes = sync.OnceValues(func() (routers.Router, error) {
	spec, err := contract.GetSpec()
	if err != nil {
		return nil, fmt.Errorf("the contract cannot be read: %w", err)
	}
	spec.Servers = nil
	router, err := gorillamux.NewRouter(spec)
	if err != nil {
		return nil, fmt.Errorf("the contract cannot be used: %w", err)
	}
	return router, nil
})

// validate holds requests against the contract: paths, methods, parameters.
// Bodies are read by the one decoder of the document and by the patch library.
func validate() (echo.MiddlewareFunc, error) {
	router, err := routes()
	if err != nil {
		return nil, err
	}
	options := &openapi3filter.Options{ExcludeRequestBody: true,
		AuthenticationFunc: openapi3filter.NoopAuthenticationFunc}
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error {
			if where := unreadable(c.Request()); where != "" {
				return refuse(http.StatusBadRequest, "The request does not fit the contract",
					where+" holds letters that are no text: send UTF-8 without U+0000")
			}
			route, params, err := router.FindRoute(c.Request())
			switch {
			case errors.Is(err, routers.ErrMethodNotAllowed):
				return refuse(http.StatusMethodNotAllowed, "This cannot be done here",
					c.Request().Method+" is not part of the contract")
			case err != nil:
				return refuse(http.StatusNotFound, "There is nothing here", "see api/openapi.yaml")
			}
			in := &openapi3filter.RequestValidationInput{Request: c.Request(), PathParams: params,
				Route: route, Options: options}
			if err := openapi3filter.ValidateRequest(c.Request().Context(), in); err != nil {
				return refuse(http.StatusBadRequest, "The request does not fit the contract", faultOf(err))
			}
			return next(c)
		}
	}, nil
}

// unreadable names what of a request is no text that can be kept; empty for nothing.
func unreadable(r *http.Request) string {
	text := func(s string) bool { return utf8.ValidString(s) && !strings.ContainsRune(s, 0) }
	for _, name := range []string{"Axtren-Page", "Axtren-Edit", "If-Match"} {
		for _, value := range r.Header.Values(name) {
			if !text(value) {
				return "header " + name
			}
		}
	}
	if !text(r.URL.Path) {
		return "the address"
	}
	query, err := url.ParseQuery(r.URL.RawQuery)
	if err != nil {
		return "the query"
	}
	for name, values := range query {
		for _, value := range values {
			if !text(name) || !text(value) {
				return "the query"
			}
		}
	}
	return ""
}

func faultOf(err error) string {
	var request *openapi3filter.RequestError
	var shape *openapi3.SchemaError
	switch {
	case errors.As(err, &request) && request.Parameter != nil && errors.As(err, &shape):
		return fmt.Sprintf("%s %s: %s", request.Parameter.In, request.Parameter.Name, shape.Reason)
	case errors.As(err, &request) && request.Parameter != nil:
		return fmt.Sprintf("%s %s: %v", request.Parameter.In, request.Parameter.Name, request.Err)
	}
	return err.Error()
}
