package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"regexp"
	"slices"
	"strings"
	"time"

	"grapnel/app/record"
)

// description is what the server says of itself.
type description struct {
	Paths map[string]map[string]struct {
		OperationID string `json:"operationId"`
		RequestBody struct {
			Content map[string]struct {
				Schema schema `json:"schema"`
			} `json:"content"`
		} `json:"requestBody"`
	} `json:"paths"`
	Components struct {
		Schemas map[string]schema `json:"schemas"`
	} `json:"components"`
}

// schema is as much of a JSON schema as bodies are made of.
type schema struct {
	Ref        string            `json:"$ref"`
	Type       any               `json:"type"`
	Format     string            `json:"format"`
	Enum       []any             `json:"enum"`
	Properties map[string]schema `json:"properties"`
	Items      *schema           `json:"items"`
	OneOf      []schema          `json:"oneOf"`
}

// junk is what no field should be given.
var junk = []any{
	nil, "", " ", "x", strings.Repeat("ä", 3000), "\u0000", "\u202e\ufeff", "'; DROP TABLE job; --", "../../etc/passwd", "NaN", "1e999", "12.4 v", "load -1a",
	0, -1, 1e308, -1e308, 9007199254740993.0, 0.1, true, false, []any{}, []any{nil}, []any{[]any{}}, map[string]any{}, map[string]any{"x": nil},
	"00000000-0000-0000-0000-000000000000", "2026-13-45T99:99:99Z", "9999-12-31T23:59:59Z", "0000-00-00", "-40",
}

// badInput sends to every operation that writes what it does not want, field by field, and
// counts the answers of 500 and above.
func badInput(ctx context.Context, args []string) (err error) {
	set := flag.NewFlagSet("badinput", flag.ExitOnError)
	most := set.Int("most", 20000, "how many variants at the most")
	_ = set.Parse(args) // it ends the program where something is wrong
	dir, err := workDir()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	server, base, err := demo(ctx, dir)
	if err != nil {
		return err
	}
	defer server.stop()
	c, err := newCaller(ctx, base)
	if err != nil {
		return err
	}
	if err := c.everything(ctx, *most); err != nil {
		return err
	}
	fmt.Printf("%d variants over %d operations that write: answers by status %v\n", c.sent, c.operations, c.statuses)
	for _, text := range c.faults {
		fmt.Println(text)
	}
	if len(c.faults) > 0 {
		return fmt.Errorf("%d answers of 500 and above", len(c.faults))
	}
	fmt.Println("no answer of 500 and above")
	return healthy(ctx, base, time.Second)
}

// caller is somebody who sends what is not wanted.
type caller struct {
	base     string
	client   *http.Client
	d        description
	ids      map[string]string
	statuses map[int]int
	faults   []string
	sent     int
	// operations is how many operations were sent something.
	operations int
}

// notAsked are operations that end what is being done here, or count guesses.
var notAsked = []string{"signOut", "signIn", "setUp", "useResetCode", "endMyOtherSessions", "changePassword", "confirmSecond", "beginSecond", "dropSecond", "importJob"}

func newCaller(ctx context.Context, base string) (*caller, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	c := &caller{base: base, client: &http.Client{Jar: jar, Timeout: 30 * time.Second}, ids: map[string]string{}, statuses: map[int]int{}}
	if _, err := c.call(ctx, http.MethodPost, "/api/sign-in", []byte(`{"sign_in":"mara","password":"four claws hold"}`), nil); err != nil {
		return nil, err
	}
	if _, err := c.call(ctx, http.MethodGet, "/api/openapi.json", nil, &c.d); err != nil {
		return nil, err
	}
	var today struct {
		Open []struct {
			Job struct{ ID string } `json:"job"`
		} `json:"open"`
	}
	if _, err := c.call(ctx, http.MethodGet, "/api/today", nil, &today); err != nil || len(today.Open) == 0 {
		return nil, fmt.Errorf("today: %d open, %w", len(today.Open), err)
	}
	c.ids["job"] = today.Open[0].Job.ID
	var page struct {
		Batteries []struct {
			ID       string                `json:"id"`
			Readings []struct{ ID string } `json:"readings"`
		} `json:"batteries"`
	}
	if _, err := c.call(ctx, http.MethodGet, "/api/jobs/"+c.ids["job"], nil, &page); err != nil {
		return nil, err
	}
	c.ids["battery"] = page.Batteries[0].ID
	if list := page.Batteries[0].Readings; len(list) > 0 {
		c.ids["reading"] = list[0].ID
	}
	return c, nil
}

func (c *caller) call(ctx context.Context, method, path string, body []byte, out any) (int, error) {
	request, err := http.NewRequestWithContext(ctx, method, c.base+path, bytes.NewReader(body))
	if err != nil {
		return 0, err
	}
	request.Header.Set("Content-Type", "application/json")
	r, err := c.client.Do(request)
	if err != nil {
		return 0, err
	}
	defer r.Body.Close()
	text, err := io.ReadAll(r.Body)
	if err != nil {
		return 0, err
	}
	if out != nil {
		return r.StatusCode, json.Unmarshal(text, out)
	}
	return r.StatusCode, nil
}

// everything sends variants to every operation, in an order of chance.
func (c *caller) everything(ctx context.Context, most int) error {
	var list []variant
	for path, methods := range c.d.Paths {
		for method, op := range methods {
			if method == "get" || slices.Contains(notAsked, op.OperationID) {
				continue
			}
			c.operations++
			of := op.RequestBody.Content["application/json"].Schema
			list = append(list, c.variants(op.OperationID, strings.ToUpper(method), path, of)...)
		}
	}
	rand.Shuffle(len(list), func(i, j int) { list[i], list[j] = list[j], list[i] })
	for _, v := range list[:min(most, len(list))] {
		status, err := c.call(ctx, v.method, v.path, v.body, nil)
		if err != nil {
			return fmt.Errorf("%s: %w", v.name, err)
		}
		c.sent++
		c.statuses[status]++
		if status >= 500 {
			c.faults = append(c.faults, fmt.Sprintf("%d %s %s %.300s", status, v.name, v.path, v.body))
		}
	}
	return nil
}

// variant is one thing that is not wanted.
type variant struct {
	name, method, path string
	body               []byte
}

var inPath = regexp.MustCompile(`\{([a-z]+)\}`)

// variants are a body as it should be, and with each of its fields as it should not.
func (c *caller) variants(name, method, path string, of schema) []variant {
	at := func() string {
		return "/api" + inPath.ReplaceAllStringFunc(path, func(param string) string {
			if id := c.ids[strings.Trim(param, "{}")]; id != "" && rand.IntN(8) > 0 {
				return id
			}
			return record.NewID().String()
		})
	}
	var out []variant
	add := func(body any) {
		text, err := json.Marshal(body)
		if err == nil {
			out = append(out, variant{name, method, at(), text})
		}
	}
	good := c.example(of, 0)
	add(good)
	for _, text := range []string{"", "{", "[]", "null", `"x"`, "7", strings.Repeat("[", 4000), `{"a":` + strings.Repeat(`{"a":`, 500)} {
		out = append(out, variant{name, method, at(), []byte(text)})
	}
	for _, change := range places(good, nil) {
		for _, value := range junk {
			add(with(good, change, value))
		}
	}
	return out
}

// example is a value that fits a schema.
func (c *caller) example(of schema, depth int) any {
	if depth > 6 {
		return nil
	}
	if of.Ref != "" {
		return c.example(c.d.Components.Schemas[of.Ref[strings.LastIndex(of.Ref, "/")+1:]], depth+1)
	}
	if len(of.OneOf) > 0 {
		return c.example(of.OneOf[0], depth+1)
	}
	if len(of.Enum) > 0 {
		return of.Enum[rand.IntN(len(of.Enum))]
	}
	kind, _ := of.Type.(string)
	if list, ok := of.Type.([]any); ok && len(list) > 0 {
		kind, _ = list[0].(string)
	}
	switch kind {
	case "object":
		out := map[string]any{}
		for name, part := range of.Properties {
			out[name] = c.example(part, depth+1)
		}
		return out
	case "array":
		if of.Items == nil {
			return []any{}
		}
		return []any{c.example(*of.Items, depth+1)}
	case "string":
		switch of.Format {
		case "uuid":
			return record.NewID().String()
		case "date-time":
			return time.Now().UTC().Format(time.RFC3339)
		}
		return "12.4 v 18c rested 2h"
	case "number", "integer":
		return 1
	case "boolean":
		return true
	}
	return 1
}

// places are the ways to every field of a value.
func places(value any, way []any) [][]any {
	var out [][]any
	switch x := value.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(x)) {
			here := append(slices.Clone(way), name)
			out = append(append(out, here), places(x[name], here)...)
		}
	case []any:
		for i := range x {
			here := append(slices.Clone(way), i)
			out = append(append(out, here), places(x[i], here)...)
		}
	}
	return out
}

// with is a value with something else at the end of a way.
func with(value any, way []any, other any) any {
	if len(way) == 0 {
		return other
	}
	switch x := value.(type) {
	case map[string]any:
		out := maps.Clone(x)
		name, _ := way[0].(string)
		out[name] = with(x[name], way[1:], other)
		return out
	case []any:
		out := slices.Clone(x)
		i, _ := way[0].(int)
		out[i] = with(x[i], way[1:], other)
		return out
	}
	return value
}
