package script

import (
	"time"

	"heptad/internal/core/calendar"
)

// Company are changes to the company that a rehearsal takes place in, or, when it stands
// alone, all that there is of it. Whoever is named by a login that is there already takes
// the place of who that was, in what is said of them; teams, services and so on by key.
type Company struct {
	Alone       bool                         `json:"alone,omitempty" doc:"Nothing else of a company is there"`
	People      []Person                     `json:"people,omitempty" maxItems:"2000" nullable:"false"`
	Teams       []Team                       `json:"teams,omitempty" maxItems:"500" nullable:"false"`
	Services    []Service                    `json:"services,omitempty" maxItems:"50" nullable:"false"`
	Calendars   map[string]calendar.Document `json:"calendars,omitempty" maxProperties:"100" doc:"By key"`
	Locations   []Location                   `json:"locations,omitempty" maxItems:"500" nullable:"false"`
	Absences    []Absence                    `json:"absences,omitempty" maxItems:"500" nullable:"false" doc:"In place of those of the persons they name"`
	CostCentres []CostCentre                 `json:"costCentres,omitempty" maxItems:"500" nullable:"false"`
	Pools       map[string]int               `json:"pools,omitempty" maxProperties:"100" doc:"Free places by key"`
	Bundles     []Bundle                     `json:"bundles,omitempty" maxItems:"200" nullable:"false" doc:"Named audiences"`
	Belongings  []Belonging                  `json:"belongings,omitempty" maxItems:"200" nullable:"false" doc:"What whom it is for has; one sample of each kind when left out"`
	Measured    *Measured                    `json:"measured,omitempty" doc:"How long work took before"`
}

// Person is somebody of a rehearsal.
type Person struct {
	Login      string   `json:"login,omitempty" maxLength:"60"`
	Name       string   `json:"name,omitempty" maxLength:"120"`
	Title      string   `json:"title,omitempty" maxLength:"120"`
	Email      string   `json:"email,omitempty" maxLength:"200"`
	Department string   `json:"department,omitempty" maxLength:"120"`
	CostCentre string   `json:"costCentre,omitempty" maxLength:"60"`
	Location   string   `json:"location,omitempty" maxLength:"120"`
	Employment string   `json:"employment,omitempty" maxLength:"60"`
	Grade      string   `json:"grade,omitempty" maxLength:"60"`
	Language   string   `json:"language,omitempty" maxLength:"20" doc:"BCP 47"`
	Manager    string   `json:"manager,omitempty" maxLength:"60" doc:"Login"`
	Teams      []string `json:"teams,omitempty" maxItems:"50" nullable:"false" doc:"Keys"`
}

// Team does tasks.
type Team struct {
	Key      string   `json:"key" maxLength:"60"`
	Name     string   `json:"name,omitempty" maxLength:"120"`
	Lead     string   `json:"lead,omitempty" maxLength:"60" doc:"Login"`
	Members  []string `json:"members,omitempty" maxItems:"500" nullable:"false" doc:"Logins"`
	Calendar string   `json:"calendar,omitempty" maxLength:"60"`
	Upward   string   `json:"upward,omitempty" maxLength:"60" doc:"Key of the next team upward"`
}

// Service is what an offering belongs to.
type Service struct {
	Key     string   `json:"key" maxLength:"60"`
	Name    string   `json:"name,omitempty" maxLength:"120"`
	Area    string   `json:"area,omitempty" maxLength:"120"`
	Owner   string   `json:"owner,omitempty" maxLength:"60" doc:"Login"`
	Home    string   `json:"home,omitempty" maxLength:"60" doc:"Key of a team"`
	Editors []string `json:"editors,omitempty" maxItems:"50" nullable:"false" doc:"Logins"`
}

// Location is a place where people work.
type Location struct {
	Name     string `json:"name" maxLength:"120"`
	Calendar string `json:"calendar,omitempty" maxLength:"60"`
}

// Absence is a time in which somebody is away.
type Absence struct {
	Person  string    `json:"person" maxLength:"60" doc:"Login"`
	From    time.Time `json:"from"`
	Until   time.Time `json:"until"`
	StandIn string    `json:"standIn,omitempty" maxLength:"60" doc:"Login"`
}

// CostCentre pays.
type CostCentre struct {
	Key   string `json:"key" maxLength:"60"`
	Name  string `json:"name,omitempty" maxLength:"120"`
	Owner string `json:"owner,omitempty" maxLength:"60" doc:"Login"`
}

// Bundle is a named audience.
type Bundle struct {
	Key  string `json:"key" maxLength:"60"`
	Name string `json:"name,omitempty" maxLength:"120"`
	Rule string `json:"rule" maxLength:"4000" doc:"CEL over asker"`
}

// Belonging is something that whom it is for has.
type Belonging struct {
	ID     string `json:"id" maxLength:"60"`
	Kind   string `json:"kind" maxLength:"60"`
	Name   string `json:"name" maxLength:"400"`
	Detail string `json:"detail,omitempty" maxLength:"1000"`
	Until  string `json:"until,omitempty" maxLength:"10" doc:"Last day, RFC 3339"`
}

// Measured is how long work took before, in open time; fewer than twenty of a kind count
// for nothing.
type Measured struct {
	Tasks   map[string][]Length `json:"tasks,omitempty" maxProperties:"200" doc:"By key of the task of the plan"`
	Rescues map[string][]Length `json:"rescues,omitempty" maxProperties:"200" doc:"Of tasks that were stuck, from then on"`
	Rungs   map[string][]Length `json:"rungs,omitempty" maxProperties:"50" doc:"By key of the rung"`
}
