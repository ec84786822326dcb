package doors

import (
	"testing"
	"time"
)

// A directory that does not answer is left alone for longer and longer, and never for very long; few failures are none.
func TestAloneFor(t *testing.T) {
	for failures := range 200 {
		low, middle, high := aloneFor(failures, 0), aloneFor(failures, 0.5), aloneFor(failures, 1)
		switch {
		case failures < bears && high != 0:
			t.Errorf("after %d it is left alone for %s", failures, high)
		case failures >= bears && (low < firstAlone*7/10 || high > longest*13/10 || low >= middle || middle >= high):
			t.Errorf("after %d it is left alone for %s to %s", failures, low, high)
		case failures > bears && middle < aloneFor(failures-1, 0.5):
			t.Errorf("after %d it is left alone for less than after one fewer", failures)
		}
	}
	if got := aloneFor(bears, 0.5); got != firstAlone || probing >= got*8/10 {
		t.Errorf("at first it is left alone for %s, and a probe may take %s", got, probing)
	}
	if aloneFor(1_000_000, 1) > 2*time.Hour {
		t.Error("it is given up")
	}
}
