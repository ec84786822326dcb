package rig

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"testing"
)

// takes are films that were made, by what they are.
var takes sync.Map

// Take is a film of so many seconds that can be played, made by Debian's ffmpeg: something moves, it is bright, it has sound.
func Take(t testing.TB, seconds int) []byte {
	t.Helper()
	return Shoot(t, fmt.Sprintf("testsrc2=size=640x360:rate=1:duration=%d", seconds), fmt.Sprintf("sine=frequency=300:duration=%d", seconds))
}

// Shoot is a film of ffmpeg's sources of pictures and of sound (https://ffmpeg.org/ffmpeg-filters.html); no sound where none is
// named.
func Shoot(t testing.TB, pictures, sound string) []byte {
	t.Helper()
	key := pictures + "|" + sound
	if data, made := takes.Load(key); made {
		return data.([]byte)
	}
	file := filepath.Join(t.TempDir(), "take.mp4")
	args := []string{"-v", "error", "-nostdin", "-y", "-f", "lavfi", "-i", pictures}
	if sound != "" {
		args = append(args, "-f", "lavfi", "-i", sound, "-c:a", "aac", "-b:a", "32k")
	}
	args = append(args, "-c:v", "libx264", "-preset", "ultrafast", "-crf", "40", "-pix_fmt", "yuv420p", file)
	if said, err := exec.CommandContext(t.Context(), "/usr/bin/ffmpeg", args...).CombinedOutput(); err != nil {
		t.Fatalf("ffmpeg %s: %v: %s", strings.Join(args, " "), err, said)
	}
	data, err := os.ReadFile(file)
	Must(t, err)
	takes.Store(key, data)
	return data
}
