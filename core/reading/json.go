package reading

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"sort"
	"strings"

	"grapnel/core/problem"
)

// MarshalJSON writes the reading as a flat object with its kind first and only
// the fields that were given.
func (r Reading) MarshalJSON() ([]byte, error) {
	t := tableOf(r.Kind)
	if t == nil {
		return nil, fmt.Errorf("reading of unknown kind %q", r.Kind)
	}
	var out bytes.Buffer
	fmt.Fprintf(&out, `{"kind":%q`, r.Kind)
	for _, f := range t.numbers {
		if x, ok := r.Number(f.id); ok {
			fmt.Fprintf(&out, `,%q:%s`, f.json, plain(x))
		}
	}
	for _, f := range t.choices {
		if code := r.Choice(f.id); code != "" {
			fmt.Fprintf(&out, `,%q:%q`, f.json, code)
		}
	}
	if r.AfterCharge {
		out.WriteString(`,"after_charge":true`)
	}
	for _, text := range []struct{ key, value string }{{"by", r.By}, {"at", r.At}} {
		if text.value != "" {
			encoded, err := json.Marshal(text.value)
			if err != nil {
				return nil, err
			}
			fmt.Fprintf(&out, `,%q:%s`, text.key, encoded)
		}
	}
	out.WriteByte('}')
	return out.Bytes(), nil
}

// UnmarshalJSON reads what MarshalJSON writes, or a reading line as a string.
func (r *Reading) UnmarshalJSON(data []byte) error {
	var value any
	if err := json.Unmarshal(data, &value); err != nil {
		return err
	}
	parsed, problems := FromJSON(value)
	if err := problems.Err(); err != nil {
		return err
	}
	*r = parsed
	return nil
}

// FromJSON takes a decoded JSON value: a reading line as a string, or an object
// with kind. Unknown fields, kinds and codes are refused by name; null means
// missing. Problems name fields relative to the reading.
func FromJSON(value any) (Reading, problem.List) {
	switch v := value.(type) {
	case string:
		parsed, err := Parse(v)
		if list, ok := err.(problem.List); ok {
			return Reading{}, lineProblems(v, list)
		}
		return parsed.Reading, nil
	case map[string]any:
		return fromObject(v)
	}
	return Reading{}, problem.List{problem.New("problem.type", "", fmt.Sprint(value), openings())}
}

// lineProblems gives a problem of a line the whole line as context.
func lineProblems(line string, list problem.List) problem.List {
	out := make(problem.List, len(list))
	for i, p := range list {
		if p.Field == "line" {
			p.Field = ""
		}
		out[i] = p
	}
	return out
}

func fromObject(object map[string]any) (Reading, problem.List) {
	name, _ := object["kind"].(string)
	if slices.Contains(later, name) {
		return Reading{}, problem.List{problem.New("problem.later", "kind", name, problem.OneOf(Kinds()))}
	}
	t := tableOf(Kind(name))
	if t == nil {
		return Reading{}, problem.List{problem.New("problem.code", "kind", given(object["kind"]), problem.OneOf(Kinds()))}
	}
	r := Reading{Kind: t.kind}
	var found problem.List
	for _, key := range sortedKeys(object) {
		if value := object[key]; key != "kind" && value != nil {
			if pr, bad := r.setField(t, key, value); bad {
				found = append(found, pr)
			}
		}
	}
	if len(found) == 0 {
		found = check(r)
	}
	return r, found
}

// setField fills one field of an object.
func (r *Reading) setField(t *kindTable, key string, value any) (problem.Problem, bool) {
	for _, f := range t.numbers {
		if f.json != key {
			continue
		}
		x, ok := value.(float64)
		if !ok {
			return problem.New("problem.type", key, given(value), problem.Range(f.low, f.high, unitName[f.unit])), true
		}
		*r = r.With(f.id, x)
		return problem.Problem{}, false
	}
	for _, f := range t.choices {
		if f.json != key {
			continue
		}
		text, _ := value.(string)
		if !slices.Contains(f.codes, text) {
			return problem.New("problem.code", key, given(value), problem.OneOf(f.codes)), true
		}
		*r = r.WithChoice(f.id, text)
		return problem.Problem{}, false
	}
	return r.setCommon(t, key, value)
}

// setCommon fills what every kind may carry.
func (r *Reading) setCommon(t *kindTable, key string, value any) (problem.Problem, bool) {
	text, isText := value.(string)
	switch key {
	case "after_charge":
		flag, ok := value.(bool)
		r.AfterCharge = flag
		return problem.New("problem.type", key, given(value), "true, false"), !ok
	case "by":
		r.By = text
		return problem.New("problem.type", key, given(value), problem.Range(1, maxName, "characters, no quotes")), !isText || text == "" || !validName(text)
	case "at":
		r.At = text
		return problem.New("problem.type", key, given(value), "2026-11-24T14:05:00Z, 14:05"), !validAt(text)
	}
	return problem.New("problem.unknown_field", key, given(value), strings.Join(t.fields(), ", ")), true
}

// fields lists the JSON names a kind takes.
func (t *kindTable) fields() []string {
	var list []string
	for _, f := range t.numbers {
		list = append(list, f.json)
	}
	for _, f := range t.choices {
		list = append(list, f.json)
	}
	return append(list, "after_charge", "by", "at")
}

func given(value any) string {
	if value == nil {
		return ""
	}
	text, err := json.Marshal(value)
	if err != nil {
		return fmt.Sprint(value)
	}
	return strings.Trim(string(text), `"`)
}

func sortedKeys(object map[string]any) []string {
	keys := make([]string, 0, len(object))
	for key := range object {
		keys = append(keys, key)
	}
	sort.Strings(keys)
	return keys
}
