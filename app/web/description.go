package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"

	"grapnel/app/formats"
	"grapnel/app/instrument"
	"grapnel/app/people"
	"grapnel/app/shop"
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/diagnosis"
	"grapnel/core/drawing"
	"grapnel/core/evidence"
	"grapnel/core/reading"
	"grapnel/core/safety"
	"grapnel/core/school"
	"grapnel/core/source"
	"grapnel/core/trail"
)

// codeList is a list of codes as the description names it.
type codeList struct {
	name  string
	codes []string
	// at are the fields that hold one of them, as "Schema.field"; behind "[]" they are
	// the items of a list, behind "{}" the values of a map. "?" allows an empty one.
	at string
}

// codeLists are the lists of codes in what the API takes and gives, as the core has them.
// They stand in the description only: what is wrong with a code that is sent is said by
// the core, in its own words. The codes of sentences are the wording catalogue's and are
// read by nobody but people.
func codeLists() []codeList {
	return []codeList{
		{"Action", names(diagnosis.Actions()), "Verdict.action TodayRow.action Visit.action Turn.action"},
		{"CauseCode", diagnosis.CauseCodes(), "Cause.cause Shift.cause"},
		{"Agreement", names(diagnosis.Agreements()), "Methods.state"},
		{"ReadingKind", reading.Kinds(), "ReadingView.kind Finding.kind Step.kind ChargeState.basis[]"},
		{"Outcome", names(evidence.Outcomes()), "Finding.outcome LoadPoint.outcome? Power.outcome?"},
		{"TestCode", trail.Tests(), "Next.test"},
		{"StageCode", trail.StageCodes(), "Stage.code StageWork.stage Work.at Preview.stage? Choices.stage_of_test{}"},
		{"StageState", trail.StageStates(), "Stage.state"},
		{"StepState", trail.StepStates(), "Step.state"},
		{"QuestionCode", trail.QuestionCodes(), "Question.code"},
		{"OptionCode", trail.OptionCodes(), "Option.code"},
		{"ClockKind", trail.Clocks(), "Clock.kind RunningClock.kind Step.clock Clock.then StartClockInputBody.kind"},
		{"Caution", names(school.Cautions()), "CautionText.id Assessment.cautions[]"},
		{"StopCode", school.StopCodes(), "Stop.stop Refusal.stop Clearing.stop ClearInputBody.stop"},
		{"ForbiddenWork", names(safety.Works()), "Work.forbidden[]"},
		{"School", school.IDs(), "Shop.school Job.school"},
		{"Chemistry", battery.Chemistries(), "Label.chemistry"},
		{"Standard", battery.Standards(), "Rating.standard"},
		{"Alloy", battery.Alloys(), "Label.plates?"},
		{"VehicleKind", evidence.VehicleKinds(), "Vehicle.kind FoundVehicle.kind"},
		{"Engine", evidence.Engines(), "Vehicle.engine? FoundVehicle.engine?"},
		{"Earth", evidence.Earths(), "Vehicle.earth? FoundVehicle.earth?"},
		{"Symptom", evidence.Symptoms(), "Job.symptoms[] BringInInputBody.symptoms[]"},
		{"Purpose", trail.Purposes(), "Job.purpose BringInInputBody.purpose?"},
		{"Tray", trail.Places(), "Vehicle.tray? FoundVehicle.tray? VehicleInput.tray? Mounting.where?"},
		{"Join", trail.Joins(), "Vehicle.joined? FoundVehicle.joined? VehicleInput.joined? Mounting.joined?"},
		{"Posts", trail.Posts(), "Battery.posts? BatteryInput.posts? BatteryOnJob.posts? Fitted.posts? Mounting.posts?"},
		{"WaitsFor", shop.WaitsFor(), "Job.waits_for? Desk.waits_for?"},
		{"Role", names(people.Roles()), "Person.role PersonInputBody.role ChangePersonInputBody.role DemoPerson.role"},
		{"Operation", people.Operations(), "Hello.may[]"},
		{"InstrumentKind", shop.InstrumentKinds(), "Instrument.kind InstrumentNow.kind KeepInstrumentInputBody.kind"},
		{"Protocol", instrument.Protocols(), "Instrument.protocol KeepInstrumentInputBody.protocol Probed.protocol"},
		{"WaitKind", trail.WaitKinds(), "TodayRow.waits"},
		{"Symbol", drawing.Symbols(), "Part.symbol?"},
		{"PartState", names(drawing.States()), "Part.state Lead.state"},
		{"LeadRole", drawing.Roles(), "Lead.role"},
		{"SumGroup", bench.Groups(), "SumCard.group"},
		{"Tone", bench.Tones(), "Figure.tone"},
		{"SourceKind", names(source.Kinds()), "Source.kind"},
	}
}

// names are codes with a type of their own as plain strings.
func names[T ~string](codes []T) []string {
	out := make([]string, len(codes))
	for i, code := range codes {
		out[i] = string(code)
	}
	return out
}

// OpenAPI is the description of the API, without a running server: the operations, with
// the codes that each field may hold and with the fields that may be null.
func OpenAPI(release string) ([]byte, error) {
	api := humachi.New(chi.NewRouter(), apiConfig(release))
	new(Server).operations(api)
	registry := api.OpenAPI().Components.Schemas
	formats.Nullable(registry, schemas)
	for _, list := range codeLists() {
		if err := list.refer(registry); err != nil {
			return nil, err
		}
	}
	return json.MarshalIndent(api.OpenAPI(), "", "  ")
}

const schemas = "#/components/schemas/"

// refer gives the list a name of its own and refers the fields to it.
func (l codeList) refer(registry huma.Registry) error {
	enum := make([]any, len(l.codes))
	for i, code := range l.codes {
		enum[i] = code
	}
	registry.Map()[l.name] = &huma.Schema{Type: huma.TypeString, Enum: enum}
	for _, at := range strings.Fields(l.at) {
		place, empty := strings.CutSuffix(at, "?")
		named := &huma.Schema{Ref: schemas + l.name}
		if empty {
			named = &huma.Schema{OneOf: []*huma.Schema{named, {Type: huma.TypeString, Enum: []any{""}}}}
		}
		place, items := strings.CutSuffix(place, "[]")
		place, values := strings.CutSuffix(place, "{}")
		schema, field, _ := strings.Cut(place, ".")
		holder := registry.Map()[schema]
		if holder == nil || holder.Properties[field] == nil {
			return fmt.Errorf("code list %s: the API has no %s", l.name, place)
		}
		switch {
		case items:
			holder.Properties[field].Items = named
		case values:
			holder.Properties[field].AdditionalProperties = named
		default:
			holder.Properties[field] = named
		}
	}
	return nil
}

// description serves the description of the API.
func (s *Server) description(w http.ResponseWriter, r *http.Request) {
	out, err := s.describe()
	if err != nil {
		s.fail(r, err)
		return
	}
	w.Header().Set("Content-Type", "application/vnd.oai.openapi+json")
	_, _ = w.Write(out)
}
