//go:build js && wasm

// Grapnel-device is the core in the browser: built as WebAssembly, it answers while
// the line to the server is down.
package main

import (
	"syscall/js"
	"time"

	"grapnel/app/device"
)

// rules is the hash of the rules that are built in, set by the build.
var rules string

func main() {
	d := device.New(rules, time.Local, time.Now)
	answer := func(_ js.Value, args []js.Value) any {
		return string(d.Answer(args[0].String(), []byte(args[1].String())))
	}
	js.Global().Set("grapnelAnswer", js.FuncOf(answer))
	js.Global().Call("grapnelReady")
	select {}
}
