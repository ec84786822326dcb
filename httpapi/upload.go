package httpapi

import (
	"errors"
	"fmt"
	"io"
	"mime/multipart"

	"uvent/core/record/record"
	"uvent/desk/problem"
)

// upload is a form with a file.
type upload struct {
	name   string
	data   []byte
	fields map[string]string
}

const mostField = 4 << 10

func fileTooLarge(most int64) *problem.Problem {
	message := fmt.Sprintf("The file is larger than %d MB, the most that is taken. Make it smaller.", most>>20)
	return &problem.Problem{Kind: problem.TooLarge, Detail: message, Fields: []record.Problem{{Path: "file", Message: message}}}
}

// readUpload reads a form with one file of up to most bytes. It is the one place
// where files come in.
func readUpload(body *multipart.Reader, most int64) (up upload, err error) {
	up.fields = map[string]string{}
	refuse := func(message string) error {
		return &problem.Problem{Kind: problem.Invalid, Detail: message, Fields: []record.Problem{{Path: "file", Message: message}}}
	}
	seen := false
	for {
		part, err := body.NextPart()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return up, refuse(badRequest(err))
		}
		limit := int64(mostField)
		if part.FormName() == "file" {
			limit = most
		}
		content, err := io.ReadAll(io.LimitReader(part, limit+1))
		switch {
		case err != nil:
			return up, refuse(badRequest(err))
		case int64(len(content)) > limit && part.FormName() == "file":
			_, _ = io.CopyN(io.Discard, part, mostDrained)
			return up, fileTooLarge(most)
		case int64(len(content)) > limit:
			return up, refuse("The form says more than a form may.")
		}
		if part.FormName() == "file" {
			up.name, up.data, seen = part.FileName(), content, true
		} else {
			up.fields[part.FormName()] = string(content)
		}
	}
	if !seen {
		return up, refuse("There is no file in this.")
	}
	return up, nil
}
