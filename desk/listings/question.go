package listings

import (
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/reach"
)

// question is what a directory is asked. It is kept as it was first asked, so
// that asking again after a crash asks the same.
type question struct {
	Queries []reach.Query       `json:"queries,omitempty"`
	Ref     string              `json:"ref,omitempty"`
	Other   string              `json:"other,omitempty"` // another listing, that is a duplicate
	From    string              `json:"from,omitempty"`  // the directory to copy from
	Page    string              `json:"page,omitempty"`  // the listing's page there, or the name that its page should have
	Values  fit.Values          `json:"values,omitempty"`
	Given   fit.Values          `json:"given,omitempty"` // all that it has been given once it takes the values
	Facts   []string            `json:"facts,omitempty"` // keys of the values that are changed
	Text    string              `json:"text,omitempty"`  // of an appeal
	Papers  []reach.Evidence    `json:"papers,omitempty"`
	By      string              `json:"by,omitempty"` // who asks
	Paper   *reach.Evidence     `json:"paper,omitempty"`
	Video   string              `json:"video,omitempty"`  // the id of the paper that is one
	Photos  []reach.Photo       `json:"photos,omitempty"` // without their data
	Saying  *reach.Saying       `json:"saying,omitempty"`
	Role    *reach.Role         `json:"role,omitempty"`
	Attempt string              `json:"attempt,omitempty"`
	Method  rulebook.MethodName `json:"method,omitempty"`
	To      string              `json:"to,omitempty"`
	Contact string              `json:"contact,omitempty"`
	Signs   string              `json:"signs,omitempty"` // who attests that they may, where the directory wants it
	Code    string              `json:"code,omitempty"`  // forgotten once it is answered
}

// facts are what a directory is told when a listing is claimed or created.
func (q question) facts() map[string]any {
	out := q.Values.Facts()
	if q.Signs != "" {
		out["attested_by"] = q.Signs
	}
	return out
}
