package cases

import (
	"time"

	"uvent/core/listing/verification"
	"uvent/core/rule/risk"
)

// Edits are the changes that were sent to a listing, oldest first.
func Edits(history []verification.Event, zone *time.Location) (out []risk.Edit) {
	by := ""
	var keys []string
	for _, e := range history {
		switch what := e.What.(type) {
		case verification.SendAsked:
			by, keys = e.Actor, what.Facts
		case verification.SuggestAsked:
			by, keys = e.Actor, what.Facts
		case verification.Sent:
			out = append(out, risk.Edit{At: e.At.In(zone), By: by, Changed: keys, Looked: what.Met != nil && len(what.Met.Reviewed) > 0})
		case verification.ChangePassed, verification.ChangeFailed:
			if n := len(out); n > 0 {
				out[n-1].Settled = e.At
			}
		}
	}
	return out
}
