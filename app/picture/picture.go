// Package picture makes of what is sent as a picture one that may be kept: its header is read
// before anything of it is unpacked, and it is drawn anew, so that nothing stays of it but
// what can be seen: no place, no device, no time, no second file behind the first.
package picture

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	_ "image/png" // a format that is taken
	"slices"
	"time"

	_ "golang.org/x/image/webp" // a format that is taken

	"grapnel/core/problem"
)

// MostPixels is the largest picture that is unpacked: a phone makes its own smaller before it
// sends them.
const MostPixels = 12_000_000

// drawTime is how long one may take to be unpacked.
const drawTime = 10 * time.Second

// MediaType is what every picture is that is kept.
const MediaType = "image/jpeg"

// quality of what is drawn anew.
const quality = 88

// formats are those that are taken, by their own names.
var formats = []string{"jpeg", "png", "webp"}

// drawing holds a place for the one picture that is unpacked at a time: it may take as much
// memory as all the rest of the program.
var drawing = make(chan struct{}, 1)

// Clean draws a picture anew, the right way up. What is no picture, or too large a one, is
// said of the field photo.
func Clean(ctx context.Context, body []byte) ([]byte, error) {
	head, format, err := image.DecodeConfig(bytes.NewReader(body))
	if err != nil || !slices.Contains(formats, format) {
		return nil, problem.List{problem.New("problem.code", "photo", kindOf(body), "a JPEG, PNG or WebP picture")}
	}
	if head.Width <= 0 || head.Height <= 0 || head.Width > MostPixels/head.Height {
		size := fmt.Sprintf("%d × %d", head.Width, head.Height)
		return nil, problem.List{problem.New("problem.range", "photo", size, problem.Range(1, MostPixels, "points of picture"))}
	}
	if format == "jpeg" {
		if n := scans(body); n > mostScans {
			return nil, problem.List{problem.New("problem.range", "photo", fmt.Sprintf("over %d", mostScans), problem.Range(1, mostScans, "scans"))}
		}
	}
	select {
	case drawing <- struct{}{}:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	defer func() { <-drawing }()
	ctx, cancel := context.WithTimeout(ctx, drawTime)
	defer cancel()
	seen, _, err := image.Decode(heeding{ctx, bytes.NewReader(body)})
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, problem.List{problem.New("problem.code", "photo", "a broken "+format, "a picture that can be opened")}
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, upright(seen, orientation(body)), &jpeg.Options{Quality: quality}); err != nil {
		return nil, fmt.Errorf("picture: %w", err)
	}
	return out.Bytes(), nil
}

// kindOf names what was sent, by how it begins.
func kindOf(body []byte) string {
	switch {
	case len(body) == 0:
		return "nothing"
	case bytes.HasPrefix(body, []byte("<")):
		return "text"
	case len(body) > 12 && string(body[4:8]) == "ftyp":
		return "HEIC or another film"
	}
	return "something else"
}
