package reach

import "time"

// spread is by how much a pause is shorter or longer by chance, so that those who wait do not all ask at the same moment.
const spread = 0.2

// Pause is how long it is waited before somebody who has not answered is asked again: first at first, twice as long after
// each further try, and most at most. chance is from 0 to 1.
func Pause(first, most time.Duration, further int, chance float64) time.Duration {
	wait := first
	for i := 0; i < further && wait < most; i++ {
		wait *= 2
	}
	return time.Duration(float64(min(wait, most)) * (1 + spread*(2*chance-1)))
}
