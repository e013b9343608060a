package field

import (
	"slices"
	"strings"

	"grapnel/core/problem"
)

// Table is everything a T says, in the order it is asked and written.
type Table[T any] []Field[T]

// Describe lists the fields as a form needs them.
func (t Table[T]) Describe() []Description {
	out := make([]Description, len(t))
	for i, f := range t {
		out[i] = f.describe()
	}
	return out
}

// Find is a field by its name.
func (t Table[T]) Find(name string) (Field[T], bool) {
	i := slices.IndexFunc(t, func(f Field[T]) bool { return f.Name == name })
	if i < 0 {
		return Field[T]{}, false
	}
	return t[i], true
}

func (t Table[T]) names() string {
	names := make([]string, len(t))
	for i, f := range t {
		names[i] = f.Name
	}
	return strings.Join(names, ", ")
}

// Decode reads a T from a JSON object. Null is not said; every problem is listed under
// its path, and unknown fields are refused by name.
func (t Table[T]) Decode(object map[string]any, path string) (T, problem.List) {
	var of T
	var found problem.List
	for _, f := range t {
		value := object[f.Name]
		if value == nil {
			if f.Required {
				found = append(found, problem.New("problem.missing", under(path, f.Name), "", f.Allowed()))
			}
			continue
		}
		taken, problems := f.read(value, under(path, f.Name))
		if len(problems) > 0 {
			found = append(found, problems...)
			continue
		}
		f.set(&of, taken)
	}
	var unknown []string
	for name := range object {
		if _, known := t.Find(name); !known {
			unknown = append(unknown, name)
		}
	}
	slices.Sort(unknown)
	for _, name := range unknown {
		found = append(found, problem.New("problem.unknown_field", under(path, name), Short(object[name]), t.names()))
	}
	return of, found
}

func under(path, name string) string {
	if path == "" {
		return name
	}
	return path + "." + name
}

// read understands one value of the field.
func (f Field[T]) read(value any, path string) (any, problem.List) {
	refuse := func(code string) (any, problem.List) {
		return nil, problem.List{problem.New(code, path, Short(value), f.Allowed())}
	}
	if f.decode != nil {
		return f.decode(value, path)
	}
	switch f.Kind {
	case Figure:
		x, ok := value.(float64)
		switch {
		case !ok && len(f.Figures) == 0:
			return refuse("problem.type")
		case !ok || len(f.Figures) > 0 && !slices.Contains(f.Figures, x):
			return refuse("problem.code")
		case !(x >= f.Low && x <= f.High):
			return refuse("problem.range")
		}
		return x, nil
	case Flag:
		if _, ok := value.(bool); !ok {
			return refuse("problem.type")
		}
	case Code:
		if text, ok := value.(string); !ok || !slices.Contains(f.Codes, text) {
			return refuse("problem.code")
		}
	case Text:
		if x, isNumber := value.(float64); isNumber {
			value = plain(x)
		}
		if text, ok := value.(string); !ok || !f.valid(text) {
			return refuse("problem.type")
		}
	}
	return value, nil
}

// Check holds a T against its table, as Decode does.
func (t Table[T]) Check(of *T, path string) problem.List {
	var found problem.List
	for _, f := range t {
		value := f.get(of)
		switch {
		case value == nil && f.Required:
			found = append(found, problem.New("problem.missing", under(path, f.Name), "", f.Allowed()))
		case value == nil:
		case f.check != nil:
			found = append(found, f.check(of, under(path, f.Name))...)
		default:
			_, problems := f.read(value, under(path, f.Name))
			found = append(found, problems...)
		}
	}
	return found
}

// Print writes what a T says, each thing as plain text has it.
func (t Table[T]) Print(of *T) []string {
	var out []string
	for _, f := range t {
		if text := f.print(of); text != "" {
			out = append(out, text)
		}
	}
	return out
}

func (f Field[T]) print(of *T) string {
	if f.say != nil {
		return f.say(of)
	}
	switch value := f.get(of).(type) {
	case float64:
		return strings.TrimSpace(strings.TrimSpace(f.Before+" "+plain(value)) + " " + f.Unit)
	case string:
		return strings.TrimSpace(f.Before + " " + value)
	case bool:
		if value {
			return f.Yes
		}
		return f.No
	}
	return ""
}

// Parse understands what Print wrote, things parted by commas. Figure splits a typed
// figure from its unit.
func (t Table[T]) Parse(of *T, text string, figure func(string) (x float64, unit string, ok bool)) problem.List {
	var found problem.List
	for _, part := range strings.Split(text, ",") {
		part = strings.TrimSpace(part)
		if part == "" || slices.ContainsFunc(t, func(f Field[T]) bool { return f.understand(of, part, figure) }) {
			continue
		}
		found = append(found, problem.New("problem.text", "item", part, t.forms()))
	}
	return found
}

func (f Field[T]) understand(of *T, text string, figure func(string) (float64, string, bool)) bool {
	if f.take != nil {
		return f.take(of, text)
	}
	if f.Before != "" {
		rest, ok := strings.CutPrefix(text, f.Before+" ")
		if !ok {
			return false
		}
		text = strings.TrimSpace(rest)
	}
	var value any = text
	switch f.Kind {
	case Figure:
		x, unit, ok := figure(text)
		if !ok || !strings.EqualFold(unit, f.Unit) {
			return false
		}
		value = x
	case Flag:
		if text != f.Yes && text != f.No {
			return false
		}
		value = text == f.Yes
	case Code:
		if f.Before == "" && f.get(of) != nil {
			return false
		}
	}
	taken, problems := f.read(value, "")
	if len(problems) > 0 {
		return false
	}
	f.set(of, taken)
	return true
}

// forms words how each field is written.
func (t Table[T]) forms() string {
	list := make([]string, len(t))
	for i, f := range t {
		list[i] = strings.TrimSpace(f.Before + " " + f.Allowed())
		if f.Kind == Flag {
			list[i] = f.Yes + " | " + f.No
		}
	}
	return strings.Join(list, ", ")
}
