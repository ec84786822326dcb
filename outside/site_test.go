package outside_test

import (
	"net/http"
	"testing"
)

func TestSites(t *testing.T) {
	w := start(t)
	must(t, w.Site(t.Context(), "nettlewick.example/gift", http.StatusNotFound, ""))
	must(t, w.Site(t.Context(), "old.example", http.StatusFound, "https://new.example/"))
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	for path, want := range map[string]int{"nettlewick.example/": 200, "nettlewick.example/gift": 404, "nettlewick.example/gift/": 404, "old.example": 302} {
		resp, err := client.Get(w.Base + "/web/" + path)
		must(t, err)
		resp.Body.Close()
		if resp.StatusCode != want || want == 302 && resp.Header.Get("Location") != "https://new.example/" {
			t.Errorf("%s answers %d", path, resp.StatusCode)
		}
	}
}
