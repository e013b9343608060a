package picture_test

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"grapnel/app/picture"
	"grapnel/core/problem"
)

// corner is a picture of some size that is red at its top left and white elsewhere.
func corner(width, height int) image.Image {
	out := image.NewRGBA(image.Rect(0, 0, width, height))
	for y := range height {
		for x := range width {
			c := color.RGBA{255, 255, 255, 255}
			if x < width/2 && y < height/2 {
				c = color.RGBA{255, 0, 0, 255}
			}
			out.SetRGBA(x, y, c)
		}
	}
	return out
}

// exif is a segment of Exif that says how the camera was held, and where it was.
func exif(order binary.AppendByteOrder, held uint16) []byte {
	name := map[bool]string{true: "II", false: "MM"}[order == binary.LittleEndian]
	body := append([]byte("Exif\x00\x00"+name), order.AppendUint32(order.AppendUint16(nil, 42), 8)...)
	body = order.AppendUint16(body, 2)
	body = order.AppendUint16(order.AppendUint16(body, 0x8825), 4) // where: a pointer that nobody follows
	body = order.AppendUint32(order.AppendUint32(body, 1), 26)
	body = order.AppendUint16(order.AppendUint16(body, 0x0112), 3)
	body = order.AppendUint32(body, 1)
	body = append(order.AppendUint16(body, held), 0, 0)
	body = append(body, "51 deg 30' N, the yard"...)
	return append(binary.BigEndian.AppendUint16([]byte{0xFF, 0xE1}, uint16(len(body)+2)), body...)
}

func jpegOf(t *testing.T, m image.Image, segment []byte) []byte {
	t.Helper()
	var out bytes.Buffer
	if err := jpeg.Encode(&out, m, &jpeg.Options{Quality: 95}); err != nil {
		t.Fatal(err)
	}
	return append(append([]byte{0xFF, 0xD8}, segment...), out.Bytes()[2:]...)
}

// redAt tells in which corner of a picture the red is: 0 top left, 1 top right, 2 bottom
// left, 3 bottom right.
func redAt(m image.Image) int {
	b, found := m.Bounds(), -1
	for at, p := range []image.Point{{b.Dx() / 4, b.Dy() / 4}, {b.Dx() * 3 / 4, b.Dy() / 4}, {b.Dx() / 4, b.Dy() * 3 / 4}, {b.Dx() * 3 / 4, b.Dy() * 3 / 4}} {
		if _, green, _, _ := m.At(p.X, p.Y).RGBA(); green < 0x4000 {
			found = at
		}
	}
	return found
}

// TestTurned checks each way a camera can be held: where the top left of what it wrote goes,
// by the table of Exif (CIPA DC-008, tag Orientation: which side the row 0 and the column 0
// are), and that nothing stays of where it was.
func TestTurned(t *testing.T) {
	for held, want := range map[uint16]int{1: 0, 2: 1, 3: 3, 4: 2, 5: 0, 6: 1, 7: 3, 8: 2, 0: 0, 9: 0} {
		for _, order := range []binary.AppendByteOrder{binary.LittleEndian, binary.BigEndian} {
			out, err := picture.Clean(t.Context(), jpegOf(t, corner(64, 32), exif(order, held)))
			if err != nil {
				t.Fatal(err)
			}
			m, err := jpeg.Decode(bytes.NewReader(out))
			if err != nil {
				t.Fatal(err)
			}
			lies := held >= 5 && held <= 8
			if b := m.Bounds(); redAt(m) != want || (b.Dx() == 64) == lies {
				t.Errorf("held %d: red at %d of %v, want %d", held, redAt(m), b, want)
			}
			if bytes.Contains(out, []byte("yard")) || bytes.Contains(out, []byte("Exif")) {
				t.Error("it still says where it was taken")
			}
		}
	}
}

// webp is a picture of one point, by the format's own container (RFC 9649).
const webp = "UklGRiQAAABXRUJQVlA4IBgAAAAwAQCdASoBAAEAAgA0JaQAA3AA/vuUAAA="

// TestFormats checks what is taken, and that what is drawn anew has nothing behind it.
func TestFormats(t *testing.T) {
	var asPNG bytes.Buffer
	if err := png.Encode(&asPNG, corner(40, 40)); err != nil {
		t.Fatal(err)
	}
	onePoint, err := base64.StdEncoding.DecodeString(webp)
	if err != nil {
		t.Fatal(err)
	}
	hidden := append(jpegOf(t, corner(40, 40), nil), "<script>behind it</script>"...)
	for name, body := range map[string][]byte{"png": asPNG.Bytes(), "webp": onePoint, "jpeg": hidden} {
		out, err := picture.Clean(t.Context(), body)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if _, format, err := image.DecodeConfig(bytes.NewReader(out)); err != nil || format != "jpeg" || bytes.Contains(out, []byte("script")) {
			t.Errorf("%s became %s, %v", name, format, err)
		}
	}
}

// bomb is a PNG of a few bytes that says it is as large as asked.
func bomb(width, height uint32) []byte {
	chunk := func(name string, body []byte) []byte {
		out := append(binary.BigEndian.AppendUint32(nil, uint32(len(body))), name...)
		out = append(out, body...)
		return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(out[4:]))
	}
	head := append(binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, width), height), 16, 6, 0, 0, 0)
	return append([]byte("\x89PNG\r\n\x1a\n"), append(chunk("IHDR", head), chunk("IDAT", []byte{0x78, 0x9c})...)...)
}

// TestRefused checks what is no picture, breaks off, or says it is larger than any that is
// unpacked: each is said, none is unpacked.
func TestRefused(t *testing.T) {
	whole := jpegOf(t, corner(64, 64), nil)
	for name, body := range map[string][]byte{
		"empty": {}, "a page": []byte("<html><script>alert(1)</script>"), "a drawing": []byte(`<svg xmlns="http://www.w3.org/2000/svg"/>`),
		"a film": []byte("\x00\x00\x00\x18ftypheic\x00\x00\x00\x00mif1heic"), "half of one": whole[:len(whole)/2], "a head alone": whole[:20],
		"a large one": bomb(30000, 30000), "one whose size runs over": bomb(1<<31-1, 1<<31-1), "a gif": []byte("GIF89a\x01\x00\x01\x00\x00\x00\x00;"),
	} {
		_, err := picture.Clean(t.Context(), body)
		var list problem.List
		if !errors.As(err, &list) || list[0].Field != "photo" || list[0].Allowed == "" || strings.Contains(err.Error(), "alert") {
			t.Errorf("%s: %v", name, err)
		}
	}
	ended, end := context.WithCancel(t.Context())
	end()
	for range 20 { // where both are ready either may be taken
		if _, err := picture.Clean(ended, whole); err != nil && !errors.Is(err, context.Canceled) {
			t.Error(err)
		}
	}
}

// FuzzClean checks that whatever is sent is refused or drawn anew, and never ends the program.
func FuzzClean(f *testing.F) {
	f.Add([]byte("\xff\xd8\xff\xe1\x00\x08Exif\x00\x00"))
	f.Add(bomb(3, 3))
	f.Fuzz(func(t *testing.T, body []byte) {
		out, err := picture.Clean(t.Context(), body)
		if err == nil {
			if _, format, err := image.DecodeConfig(bytes.NewReader(out)); err != nil || format != "jpeg" {
				t.Errorf("%s %v", format, err)
			}
		}
	})
}

// TestManyScans refuses a JPEG with more scans than a picture has, before any of it is unpacked, and
// takes one whose preview holds marks of its own.
// No source: a form of attack on whatever unpacks; the marks are ITU-T T.81's, annex B.
func TestManyScans(t *testing.T) {
	plain := jpegOf(t, corner(64, 64), nil)
	at := bytes.Index(plain, []byte{0xFF, 0xDA})
	if at < 0 {
		t.Fatal("no scan")
	}
	scan := plain[at : len(plain)-2]
	bomb := append(bytes.Clone(plain[:len(plain)-2]), bytes.Repeat(scan, 4000)...)
	bomb = append(bomb, 0xFF, 0xD9)
	var found problem.List
	if _, err := picture.Clean(t.Context(), bomb); !errors.As(err, &found) || !strings.Contains(err.Error(), "scans") {
		t.Errorf("4000 scans: %v", err)
	}
	// A preview in a segment of its own is passed over as the segment is.
	preview := bytes.Repeat([]byte{0xFF, 0xDA, 0, 8}, 1000)
	segment := append(binary.BigEndian.AppendUint16([]byte{0xFF, 0xE2}, uint16(len(preview)+2)), preview...)
	if _, err := picture.Clean(t.Context(), jpegOf(t, corner(64, 64), segment)); err != nil {
		t.Errorf("with a preview: %v", err)
	}
	for n := range len(plain) {
		_, _ = picture.Clean(t.Context(), plain[:n]) // what is cut off anywhere ends in an error, not in a fall
	}
}
