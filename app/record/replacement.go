package record

import "time"

// Replacement is a battery of a job that another one was fitted for.
type Replacement struct {
	ID    ID `json:"id"`
	OldID ID `json:"old_id"`
	NewID ID `json:"new_id"`
	// Tag and Maker are those of the new one.
	Tag   string `json:"tag"`
	Maker string `json:"maker"`
	// Goes is where the old one went.
	Goes string `json:"goes" enum:"scrap,second_use,customer"`
	// Deposit tells what became of the deposit on the old one.
	Deposit string `json:"deposit" enum:"paid_back,kept,none"`
	// WarrantyUntil is YYYY-MM-DD, empty for none.
	WarrantyUntil string    `json:"warranty_until"`
	PersonID      ID        `json:"-"`
	By            string    `json:"by"`
	At            time.Time `json:"at"`
}

// Where an old battery goes.
const (
	Scrap        = "scrap"
	SecondUse    = "second_use"
	WithCustomer = "customer"
)

// Goings lists where an old battery may go.
func Goings() []string { return []string{Scrap, SecondUse, WithCustomer} }

// Deposits lists what may become of a deposit.
func Deposits() []string { return []string{"paid_back", "kept", "none"} }
