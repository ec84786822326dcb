package paint

import "encoding/binary"

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
