package verification

import "time"

// pauses are how many days pass after each letter about one thing until the next. After the last nobody is written to again.
var pauses = []int{3, 5, 8, 13}

// silentDays is how many days after the last letter an owner is waited for before they are rung.
const silentDays = 4

// NextLetter is when an owner is written to again about a thing, after so many letters, the last of them sent at a moment; nil:
// not any more.
func NextLetter(letters int, last time.Time) *time.Time {
	if letters < 1 || letters > len(pauses) {
		return nil
	}
	at := last.AddDate(0, 0, pauses[letters-1])
	return &at
}

// Silent is from when an owner who was written to as often as anybody is, and does not answer, is to be reached in another way;
// nil while they will be written to again.
func Silent(letters int, last *time.Time) *time.Time {
	if letters <= len(pauses) || last == nil {
		return nil
	}
	at := last.AddDate(0, 0, silentDays)
	return &at
}
