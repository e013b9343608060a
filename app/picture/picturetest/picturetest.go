// Package picturetest makes pictures for tests.
package picturetest

import (
	"bytes"
	"image"
	"image/png"
)

// PNG is a small grey picture of its own for each shade.
func PNG(shade byte) []byte {
	m := image.NewGray(image.Rect(0, 0, 16, 8))
	for i := range m.Pix {
		m.Pix[i] = shade
	}
	var out bytes.Buffer
	if err := png.Encode(&out, m); err != nil {
		panic(err) // a buffer takes everything
	}
	return out.Bytes()
}
