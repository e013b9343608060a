package web

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"

	"grapnel/core/problem"
	"grapnel/core/wording"
)

// What huma says of a body that does not fit, where it is no description of what is allowed.
const (
	lacking  = "lacking "
	unwanted = "unwanted"
)

// wordSchemas has huma say what is allowed in the words of this program. Once, before the
// first schema is made: schemas keep the words they were made with.
func wordSchemas() {
	for at, code := range map[*string]string{
		&validation.MsgExpectedRFC3339DateTime: "schema.moment",
		&validation.MsgExpectedRFC3339Date:     "schema.day",
		&validation.MsgExpectedRFC3339Time:     "schema.time",
		&validation.MsgExpectedBoolean:         "schema.boolean",
		&validation.MsgExpectedNumber:          "schema.number",
		&validation.MsgExpectedInteger:         "schema.integer",
		&validation.MsgExpectedString:          "schema.string",
		&validation.MsgExpectedBase64String:    "schema.base64",
		&validation.MsgExpectedArray:           "schema.array",
		&validation.MsgExpectedObject:          "schema.object",
	} {
		*at = wording.Text(code, nil)
	}
	for at, value := range map[*string]struct{ code, verb string }{
		&validation.MsgExpectedOneOf:         {"schema.one_of", "%s"},
		&validation.MsgExpectedMinimumNumber: {"schema.least", "%v"},
		&validation.MsgExpectedMaximumNumber: {"schema.most", "%v"},
		&validation.MsgExpectedMinLength:     {"schema.shortest", "%d"},
		&validation.MsgExpectedMaxLength:     {"schema.longest", "%d"},
		&validation.MsgExpectedMinItems:      {"schema.fewest", "%d"},
		&validation.MsgExpectedMaxItems:      {"schema.items", "%d"},
		// What the library says of an ID that is none is left out: it is of bytes and dashes.
		&validation.MsgExpectedRFC4122UUID: {"schema.id", "%.0v"},
	} {
		*at = wording.Text(value.code, wording.Values{"value": value.verb})
	}
	validation.MsgExpectedRequiredProperty = lacking + "%s"
	validation.MsgUnexpectedProperty = unwanted
}

// schemaProblem says what does not fit, field by field.
func schemaProblem(status int, message string, errs []error) *Problem {
	var list problem.List
	for _, err := range errs {
		if err != nil {
			list = append(list, misfit(err))
		}
	}
	if status != http.StatusRequestEntityTooLarge && len(list) > 0 {
		message = list.Error()
	}
	return newProblem(status, message, problemFields(list)...)
}

// secrets are fields that nobody is told again what they gave for.
var secrets = []string{"password", "had", "second", "code"}

// mostQuoted is how much of what was given is said again, in bytes.
const mostQuoted = 80

// misfit words one thing that does not fit.
func misfit(err error) problem.Problem {
	var detail *huma.ErrorDetail
	if !errors.As(err, &detail) {
		return problem.Problem{Text: err.Error()}
	}
	field := strings.TrimPrefix(detail.Location, "body.")
	given := quoted(field, detail.Value)
	var p problem.Problem
	switch name, lacks := strings.CutPrefix(detail.Message, lacking); {
	case lacks:
		field = strings.TrimPrefix(strings.TrimPrefix(detail.Location+"."+name, "body"), ".")
		p = problem.New("problem.missing", field, "", wording.Text("schema.something", nil))
	case detail.Message == unwanted:
		p = problem.New("problem.unknown_field", field, "", wording.Text("schema.described", nil))
	case given == "":
		p = problem.New("schema.hidden", field, "", detail.Message)
	default:
		p = problem.New("schema.fit", field, given, detail.Message)
	}
	p.Code = "problem.schema"
	return p
}

// quoted is what is said again of what was given: nothing of a secret, nor of a body that
// cannot be read, which may hold one as well.
func quoted(field string, value any) string {
	if field == "body" || slices.Contains(secrets, field) || value == nil {
		return ""
	}
	given := fmt.Sprint(value)
	if encoded, err := json.Marshal(value); err == nil && len(given) > mostQuoted {
		given = problem.Cut(string(encoded), mostQuoted)
	}
	return given
}
