package people

import (
	"strings"
	"testing"
)

// A password that was hashed at one cost is still one's own when the cost of new ones is another.
func TestPasswordsOutliveTheirCost(t *testing.T) {
	t.Parallel()
	cheap, dear := Cost{Time: 1, Memory: 8, Threads: 1}, Cost{Time: 2, Memory: 64, Threads: 2}
	kept := cheap.hash("lantern-harbour")
	if !dear.matches("lantern-harbour", kept) || dear.matches("lantern-harbor", kept) {
		t.Error("the cost of new passwords decides on old ones")
	}
	for _, broken := range []string{"", "$argon2id$v=19$m=0,t=0,p=0$$", kept[:len(kept)-4]} {
		if dear.matches("", broken) || dear.matches("lantern-harbour", broken) {
			t.Errorf("%q opens", broken)
		}
	}
	if kept := Dear.hash("lantern-harbour"); !strings.HasPrefix(kept, "$argon2id$v=19$m=65536,t=3,p=2$") || strings.Contains(kept, "lantern") {
		t.Errorf("kept as %s", kept)
	}
	if again := cheap.hash("lantern-harbour"); again == kept {
		t.Error("two hashes of a password are the same")
	}
}
