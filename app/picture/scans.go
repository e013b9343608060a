package picture

import (
	"bytes"
	"context"
	"encoding/binary"
	"io"
)

// mostScans is how many scans a JPEG may have: a progressive one has ten or so. A file of 155 kB
// may have thousands, each of which walks over every point of the picture again.
const mostScans = 64

// scans counts the scans of a JPEG without unpacking any of it, up to one more than may be.
func scans(body []byte) (n int) {
	for i := 2; i+4 <= len(body) && n <= mostScans; {
		if body[i] != 0xFF {
			// Between scans lies what is packed: on to the next mark.
			next := bytes.IndexByte(body[i:], 0xFF)
			if next < 0 {
				return n
			}
			i += next
			continue
		}
		switch mark := body[i+1]; {
		case mark == 0xFF:
			i++
		case mark == 0x00 || mark == 0x01 || mark >= 0xD0 && mark <= 0xD8:
			i += 2 // a stuffed byte, or a mark without a length
		case mark == 0xD9:
			return n
		default:
			if mark == 0xDA {
				n++
			}
			i += 2 + max(2, int(binary.BigEndian.Uint16(body[i+2:])))
		}
	}
	return n
}

// heeding reads as long as somebody waits for what is read.
type heeding struct {
	ctx  context.Context
	from io.Reader
}

// Read reads on, or gives why nobody waits any more.
func (h heeding) Read(p []byte) (int, error) {
	if err := h.ctx.Err(); err != nil {
		return 0, err
	}
	return h.from.Read(p[:min(len(p), mostRead)])
}

// mostRead is how much is read at once: between two reads it is looked whether anybody waits.
const mostRead = 4096
