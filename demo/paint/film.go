package paint

import (
	"context"
	"encoding/binary"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
)

// Film is an MP4 file of so many seconds (ISO/IEC 14496-12): its headers, and no pictures.
func Film(seconds uint32) []byte {
	const scale = 600 // units a second
	head := make([]byte, 100)
	binary.BigEndian.PutUint32(head[12:], scale)
	binary.BigEndian.PutUint32(head[16:], seconds*scale)
	handler := append(append(make([]byte, 8), "vide"...), make([]byte, 12)...)
	movie := append(filmBox("mvhd", head), filmBox("trak", filmBox("mdia", filmBox("hdlr", handler)))...)
	return append(filmBox("ftyp", []byte("isomisom\x00\x00\x00\x00")), filmBox("moov", movie)...)
}

func filmBox(kind string, body []byte) []byte {
	return append(append(binary.BigEndian.AppendUint32(nil, uint32(8+len(body))), kind...), body...)
}

// takes are films that were made, by what they are.
var takes sync.Map

// Take is a film of so many seconds that can be played, made by Debian's ffmpeg: something moves, it is bright, it has sound.
func Take(ctx context.Context, seconds int) ([]byte, error) {
	return Shoot(ctx, fmt.Sprintf("testsrc2=size=640x360:rate=1:duration=%d", seconds), fmt.Sprintf("sine=frequency=300:duration=%d", seconds))
}

// Shoot is a film of ffmpeg's sources of pictures and of sound (https://ffmpeg.org/ffmpeg-filters.html); no sound where none is
// named.
func Shoot(ctx context.Context, pictures, sound string) ([]byte, error) {
	key := pictures + "|" + sound
	if data, made := takes.Load(key); made {
		return data.([]byte), nil
	}
	dir, err := os.MkdirTemp("", "uvent-film-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	args := []string{"-v", "error", "-nostdin", "-f", "lavfi", "-i", pictures}
	if sound != "" {
		args = append(args, "-f", "lavfi", "-i", sound, "-c:a", "aac", "-b:a", "32k")
	}
	args = append(args, "-c:v", "libx264", "-preset", "ultrafast", "-crf", "40", "-pix_fmt", "yuv420p", filepath.Join(dir, "take.mp4"))
	if said, err := exec.CommandContext(ctx, "/usr/bin/ffmpeg", args...).CombinedOutput(); err != nil {
		return nil, fmt.Errorf("ffmpeg %s: %w: %s", strings.Join(args, " "), err, said)
	}
	data, err := os.ReadFile(filepath.Join(dir, "take.mp4"))
	if err == nil {
		takes.Store(key, data)
	}
	return data, err
}
