package listings

import (
	"context"

	"uvent/core/listing/verification"
	"uvent/core/rule/rulebook"
	"uvent/reach"
)

// proof is a paper or a video that somebody at the directory is to decide on, or neither.
type proof struct {
	Ref     string              `json:"ref"`
	Attempt string              `json:"attempt"`
	Method  rulebook.MethodName `json:"method"`
	Paper   *reach.Evidence     `json:"paper,omitempty"`
	Video   string              `json:"video,omitempty"` // the id of the paper that is one
}

var askingReview = request[proof]{
	put: func(ctx context.Context, d *Desk, to to, q proof) (verification.What, error) {
		with, err := d.files.Video(ctx, q.Video)
		if err != nil {
			return nil, err
		}
		look, err := d.reach.AskReview(ctx, to.url, to.key, q.Ref, string(q.Method), q.Paper, with)
		if look.VerifiedAt != nil {
			return verification.ReviewPassed{Attempt: q.Attempt}, err
		}
		return verification.ReviewBegun{Attempt: q.Attempt, Ref: look.ID, Terms: until(look)}, err
	},
	no: func(q proof, says string, r *reach.Refusal) verification.What {
		if r.Code == alreadyVerified {
			return verification.ReviewPassed{Attempt: q.Attempt}
		}
		return verification.ReviewFailed{Attempt: q.Attempt, Says: says}
	},
}
