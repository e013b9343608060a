package picture

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
)

// Marks of a JPEG file and of the Exif in it, by their standards (ITU-T T.81, CIPA DC-008).
const (
	markStart      = 0xD8
	markScan       = 0xDA
	markExif       = 0xE1
	tagOrientation = 0x0112
	typeShort      = 3
	entryBytes     = 12
)

// orientation is how a camera was held, 1 to 8 as Exif counts; 1 where it does not say.
func orientation(body []byte) int {
	exif := exifOf(body)
	if len(exif) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	if string(exif[:2]) == "II" {
		order = binary.LittleEndian
	}
	at := int64(order.Uint32(exif[4:]))
	if at+2 > int64(len(exif)) {
		return 1
	}
	entries := exif[at+2:]
	for n := order.Uint16(exif[at:]); n > 0 && len(entries) >= entryBytes; n, entries = n-1, entries[entryBytes:] {
		if order.Uint16(entries) != tagOrientation || order.Uint16(entries[2:]) != typeShort {
			continue
		}
		if held := int(order.Uint16(entries[8:])); held >= 1 && held <= 8 {
			return held
		}
	}
	return 1
}

// exifOf finds the Exif of a JPEG file; nil where it has none.
func exifOf(body []byte) []byte {
	if len(body) < 4 || body[0] != 0xFF || body[1] != markStart {
		return nil
	}
	for at := 2; at+4 <= len(body) && body[at] == 0xFF && body[at+1] != markScan; {
		length := int(binary.BigEndian.Uint16(body[at+2:]))
		end := at + 2 + length
		if length < 2 || end > len(body) {
			return nil
		}
		part := body[at+4 : end]
		if exif, ok := bytes.CutPrefix(part, []byte("Exif\x00\x00")); ok && body[at+1] == markExif {
			return exif
		}
		at = end
	}
	return nil
}

// turned is a picture seen otherwise: no point of it is copied.
type turned struct {
	image.Image
	// held is how the camera was held.
	held int
}

// upright is a picture the right way up.
func upright(seen image.Image, held int) image.Image {
	if held == 1 {
		return seen
	}
	return turned{seen, held}
}

// Bounds swaps the sides of what lies on its side.
func (t turned) Bounds() image.Rectangle {
	b := t.Image.Bounds()
	if t.held >= 5 {
		return image.Rect(0, 0, b.Dy(), b.Dx())
	}
	return image.Rect(0, 0, b.Dx(), b.Dy())
}

// At is the point that stands at a place once it is the right way up.
func (t turned) At(x, y int) color.Color {
	b := t.Image.Bounds()
	if t.held >= 5 {
		x, y = y, x
	}
	// By Exif's table: 2, 3, 7, 8 run from the right; 3, 4, 6, 7 from below.
	if t.held == 2 || t.held == 3 || t.held == 7 || t.held == 8 {
		x = b.Dx() - 1 - x
	}
	if t.held == 3 || t.held == 4 || t.held == 6 || t.held == 7 {
		y = b.Dy() - 1 - y
	}
	return t.Image.At(b.Min.X+x, b.Min.Y+y)
}
