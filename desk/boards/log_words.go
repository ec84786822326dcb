package boards

import (
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"uvent/core/record/record"
	"uvent/desk/records"
)

// logWords say what was done where no directory is concerned, with what is kept of it in {braces}.
var logWords = map[string]string{
	"access_ended":          "Ended the access of {person}.",
	"change_planned":        "Planned a change of the record for {on}.",
	"plan_dropped":          "Dropped a planned change.",
	"client_added":          "Added the client {name}.",
	"client_saved":          "Saved what is known of the client {name}.",
	"client_removed":        "Removed the client {name}.",
	"client_put_away":       "Put the client away.",
	"client_brought_back":   "Brought the client back.",
	"client_erased":         "Erased the people of the client.",
	"connector_changed":     "Another address is asked for {directory}: {to}.",
	"credential_set":        "Set how {directory} is entered ({manner}).",
	"credential_dropped":    "Dropped how {directory} is entered.",
	"difference_accepted":   "Accepted a difference of {fact} on {directory} as it is: {why}",
	"difference_taken_up":   "Took up a difference of {fact} on {directory} again.",
	"feed_made":             "Made a calendar's address.",
	"feed_ended":            "Ended a calendar's address.",
	"intake_asked":          "Wrote to {to} for what is missing.",
	"invited":               "Invited {email} as {role}.",
	"uninvited":             "Withdrew an invitation.",
	"joined":                "Joined with {email} as {role}.",
	"key_made":              "Made the key “{name}” ({scope}).",
	"key_ended":             "Ended a key.",
	"letter_again":          "Sent a letter again, to {to}: {subject}",
	"letter_refused":        "A letter to {to} was refused: {says}",
	"letter_bounced":        "A letter to {to} came back: {says}",
	"letter_given_up":       "A letter to {to} was given up: {says}",
	"location_added":        "Added the location.",
	"location_removed":      "Removed the location.",
	"location_put_away":     "Put the location away.",
	"location_brought_back": "Brought the location back.",
	"matter_noted":          "Noted of “{matter}”: {says}",
	"matter_handed":         "Handed “{matter}” to {to}.",
	"paper_added":           "Added the paper “{name}”.",
	"paper_saved":           "Said what a paper is.",
	"paper_removed":         "Removed a paper.",
	"paper_restored":        "Brought a paper back.",
	"photo_added":           "Added the photo “{name}” ({group}).",
	"photo_saved":           "Said what a photo shows.",
	"photo_removed":         "Removed a photo.",
	"photo_restored":        "Brought a photo back.",
	"photos_ordered":        "Put the photos in order.",
	"record_confirmed":      "Confirmed that the record is right.",
	"record_saved":          "Saved the record{changed}.",
	"region_added":          "Added the region {name}.",
	"region_dropped":        "Dropped the region {name}.",
	"reset_asked":           "{person} asked for a new password.",
	"password_changed":      "Changed their password.",
	"password_reset":        "Chose a new password by letter.",
	"second_factor_set":     "Set a second factor.",
	"second_factor_dropped": "Took a second factor off.",
	"recovery_codes_made":   "Made recovery codes.",
	"role_changed":          "Changed what {person} may do.",
	"roles_secured":         "Said which roles take a second factor.",
	"snoozed":               "Put “{task}” off until {until}. {reason}",
	"taken_up":              "Took up again what was put off. {task}",
	"taken_over":            "Handed the work of {from} to {to}.",
	"chosen":                "Chose whether directories are wanted.",
	"rulebook_saved":        "Saved a rulebook.",
}

// logTitle names a kind of what is done, for whoever looks for it.
func logTitle(kind string) string {
	what := strings.ReplaceAll(kind, "_", " ")
	return strings.ToUpper(what[:1]) + what[1:]
}

// worded says what was done, by its words and what is kept of it; false where there are no words for it.
func worded(kind string, data []byte) (string, bool) {
	words, known := logWords[kind]
	if !known {
		return "", false
	}
	var kept map[string]any
	_ = json.Unmarshal(data, &kept) // what is not an object has nothing to be named
	for _, part := range strings.Split(words, "{")[1:] {
		key, _, _ := strings.Cut(part, "}")
		value := ""
		switch v := kept[key].(type) {
		case string:
			value = v
		case float64:
			value = fmt.Sprint(v)
		}
		if at, err := time.Parse(time.RFC3339, value); err == nil {
			value = at.UTC().Format("2 Jan 2006")
		}
		if key == "changed" {
			value = changed(data)
		}
		words = strings.Replace(words, "{"+key+"}", value, 1)
	}
	return strings.TrimSpace(words), true
}

// changed names the facts that a saving has changed.
func changed(data []byte) string {
	var c records.RecordChange
	if json.Unmarshal(data, &c) != nil || c.Before == nil {
		return ""
	}
	var titles []string
	for _, one := range record.Changes(*c.Before, c.After) {
		titles = append(titles, strings.ToLower(one.Title))
	}
	if len(titles) == 0 {
		return ""
	}
	return ": " + strings.Join(titles, ", ")
}
