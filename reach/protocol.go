package reach

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/getkin/kin-openapi/openapi3"

	"uvent/docs"
)

// asked is one request of the connector protocol, and what answers it.
type asked struct {
	method string
	path   *regexp.Regexp // the end of an address
	answer *openapi3.Schema
}

// protocol is docs/connector.yaml, as far as it says how requests are answered. It ships with the program: where it cannot be
// read, nothing can be.
var protocol = sync.OnceValue(func() (out []asked) {
	spec, err := openapi3.NewLoader().LoadFromData(docs.Connector)
	if err != nil {
		panic(err)
	}
	parameter := regexp.MustCompile(`\\\{[a-z]+\\\}`) // as QuoteMeta leaves it
	for path, item := range spec.Paths.Map() {
		at := regexp.MustCompile(parameter.ReplaceAllString(regexp.QuoteMeta(path), "[^/]+") + "$")
		for method, op := range item.Operations() {
			for status, response := range op.Responses.Map() {
				if media := response.Value.Content.Get("application/json"); strings.HasPrefix(status, "2") && media != nil {
					out = append(out, asked{method, at, media.Schema.Value})
				}
			}
		}
	}
	return out
})

// amiss says what of an answer is not as the protocol has it: such an answer is none, however well it was meant. Of what
// is no part of the protocol it knows nothing.
func amiss(method, path string, answer []byte) error {
	for _, a := range protocol() {
		if a.method != method || !a.path.MatchString(path) {
			continue
		}
		var value any
		if err := json.Unmarshal(answer, &value); err != nil {
			return err
		}
		err := a.answer.VisitJSON(value)
		var fault *openapi3.SchemaError
		if errors.As(err, &fault) {
			return fmt.Errorf("%s: %s", strings.Join(append([]string{"answer"}, fault.JSONPointer()...), "."), fault.Reason)
		}
		return err
	}
	return nil
}

// later reports whether a status means that the request may be met another time: whoever answered was busy, did not know
// us at the moment, or was not the directory but something before it.
func later(resp *http.Response, no *Refusal) bool {
	switch resp.StatusCode {
	case http.StatusUnauthorized, http.StatusProxyAuthRequired, http.StatusRequestTimeout, http.StatusTooEarly, http.StatusTooManyRequests:
		return true
	}
	return resp.StatusCode >= 500 || no.Code == "" && no.Detail == "" // a page of something before it says neither
}

// mostAfter is the longest that a directory is left alone because it asks for that.
const mostAfter = 24 * time.Hour

// after is how long a directory wants to be left alone (RFC 9110, section 10.2.3); 0 where it does not say.
func after(resp *http.Response, now time.Time) time.Duration {
	said := resp.Header.Get("Retry-After")
	wait := time.Duration(0)
	if seconds, err := strconv.Atoi(said); err == nil {
		wait = time.Duration(min(seconds, int(mostAfter/time.Second))) * time.Second
	} else if at, err := http.ParseTime(said); err == nil {
		wait = at.Sub(now)
	}
	return min(max(wait, 0), mostAfter)
}
