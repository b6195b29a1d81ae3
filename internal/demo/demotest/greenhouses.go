package demotest

import (
	"fmt"
	"strings"

	"heptad/internal/core/intake"
	"heptad/internal/core/sheet"
)

// Greenhouses are the sheets of Halvorsen-Ito Greenhouses, the made-up company that
// moves in: so many people, the same each time. Somebody of them is its administrator:
// Signe Halvorsen, who signs in as signe.
type Greenhouses struct{ Size int }

var (
	given = strings.Fields("Signe Mio Aske Naoko Freja Ren Tove Haruki Liv Sora Bodil Kenji Ida Yuto Rasmus Aiko Nanna Daichi Malthe Emi Karla Riku Asta Hina Storm Yui Vigga Kaito Eskild Mei Laust Nozomi Alma Takumi Ebbe Sakura Runa Itsuki Viggo Honoka Esben Rio Tilde Akari Troels Miyu Gry Sota Anker Kana")
	sur   = strings.Fields("Halvorsen Ito Bregnholt Morikawa Skovgade Tanabe Lyngsoe Hoshino Vejstrup Kuroda Engbakke Nishio Damhus Ogata Ravnsted Shimada Holmquist Uehara Kaersgaard Wakabe Tornvig Asakura Mosehaj Fukui Klitager Hamano Birkelund Inaba Stensbo Kitade Oestrup Minami Grenholt Nagao Soendal Okubo Bakkemose Sakai Fjeldsted Tsuda Hedevang Yanai Lundsgaard Zenko Askvig Arima Brinkmose Eguchi Dalvang Horie")
	does  = []struct{ department, title, centre string }{
		{"Growing", "Grower", "G-100"}, {"Packing", "Packer", "G-200"}, {"Seeds", "Seed keeper", "G-300"}, {"Logistics", "Driver", "G-400"},
		{"Finance", "Clerk", "G-500"}, {"People", "Adviser", "G-600"}, {"Technology", "Technician", "G-700"}, {"Premises", "Keeper", "G-800"},
	}
	sites = []string{"Glasshouse Nord", "Glasshouse Syd", "Packing Hall", "Aarhus Office", "Kobe Office", "Kobe Seed House"}
)

// Login is that of the person with a number, from 0.
func (g Greenhouses) Login(i int) string {
	if i == 0 {
		return "signe"
	}
	return fmt.Sprintf("%s.%s%d", strings.ToLower(given[i%len(given)][:2]), strings.ToLower(g.sur(i)), i)
}

func (g Greenhouses) sur(i int) string { return sur[(i/len(given)+i)%len(sur)] }

// Name is that of the person with a number.
func (g Greenhouses) Name(i int) string { return given[i%len(given)] + " " + g.sur(i) }

// Person is the line of a person, in the order of the fields of a sheet of people.
func (g Greenhouses) Person(i int) []string {
	d, manager, title := does[i%len(does)], "", does[i%len(does)].title
	if i > 0 {
		manager = g.Login((i - 1) / 12)
	}
	if i < len(does)*12 {
		title = "Head of " + d.department
	}
	language := "da"
	site := sites[(i/7)%len(sites)]
	if strings.HasPrefix(site, "Kobe") {
		language = "ja"
	}
	return []string{g.Login(i), g.Name(i), g.Login(i) + "@halvorsenito.example", title, d.department, d.centre, site, "permanent", fmt.Sprint(1 + i%8), manager, "", language, "yes"}
}

// People are the lines of all people.
func (g Greenhouses) People() [][]string {
	rows := make([][]string, g.Size)
	for i := range rows {
		rows[i] = g.Person(i)
	}
	return rows
}

// CSV writes rows as a sheet of a kind.
func CSV(kind intake.Kind, rows [][]string) []byte {
	var header []string
	for _, f := range intake.Fields(kind) {
		header = append(header, f.Name)
	}
	return sheet.CSV(header, rows)
}

// The rest of the company, in the order of the fields of their sheets.

// Locations are the lines of the sites.
func (g Greenhouses) Locations() (rows [][]string) {
	for _, site := range sites {
		rows = append(rows, []string{site, ""})
	}
	return rows
}

// CostCentres are the lines of the cost centres.
func (g Greenhouses) CostCentres() (rows [][]string) {
	for i, d := range does {
		rows = append(rows, []string{d.centre, d.department, g.Login(i + 1)})
	}
	return rows
}

// Teams are the lines of the teams.
func (g Greenhouses) Teams() [][]string {
	team := func(key, name string, lead int, upward string, members ...int) []string {
		var logins []string
		for _, m := range members {
			logins = append(logins, g.Login(m))
		}
		return []string{key, name, g.Login(lead), strings.Join(logins, "; "), "", upward}
	}
	return [][]string{
		team("help-desk", "Help Desk", 6, "systems", 14, 22, 30), team("systems", "Systems", 38, "", 46, 54), team("people-care", "People Care", 5, "", 13, 21),
		team("buildings", "Buildings", 7, "", 15, 23, 31), team("plant-doctors", "Plant Doctors", 8, "", 16, 24),
	}
}

// Areas are the lines of the areas.
func (g Greenhouses) Areas() [][]string {
	rows := [][]string{
		{"IT", "Computers, and who can open what.", g.Login(38)}, {"HR", "From the first day to the last.", g.Login(5)},
		{"Facilities", "Rooms, badges and glass.", g.Login(7)}, {"Growing", "What keeps plants well.", g.Login(8)},
	}
	for i := range rows { // no editors, no home team, no second yes, no words, no dates
		rows[i] = append(rows[i], "", "", "offered", "no", "", "", "")
	}
	return rows
}

// Services are the lines of the services.
func (g Greenhouses) Services() [][]string {
	rows := [][]string{
		{"workplace", "Workplace", "IT", "Computers, telephones and what runs on them.", g.Login(6), "help-desk", "offered"},
		{"accounts", "Accounts", "IT", "Who can open what.", g.Login(38), "systems", "offered"},
		{"people", "People matters", "HR", "From the first day to the last.", g.Login(5), "people-care", "offered"},
		{"premises", "Premises", "Facilities", "Rooms, badges and glass.", g.Login(7), "buildings", "offered"},
		{"plants", "Plant care", "Growing", "What keeps plants well.", g.Login(8), "plant-doctors", "offered"},
	}
	for i := range rows { // no editors, no second yes, no words, no dates
		rows[i] = append(rows[i], "", "no", "", "", "")
	}
	return rows
}

// Mistaken is the sheet of people as somebody sends it: other headings, semicolons, and
// mistakes in some lines, which it tells.
func (g Greenhouses) Mistaken() (file []byte, wrong int) {
	rows := g.People()
	header := []string{"User name", "Full name", "E-mail", "Job title", "Dept", "Cost center", "Site", "Employment", "Grade", "Supervisor", "Teams", "Lang", "Enabled", "Shoe size"}
	for i := 40; i < 80; i++ { // one slip of the pen, copied down
		if rows[i][6] == sites[0] {
			rows[i][6] = "Glashouse Nord"
			wrong++
		}
	}
	last := g.Size - 1 // nobody reports to the last ones
	rows[last][0] = rows[last-1][0]
	rows[last-2][2] = "no address"
	rows[last-3][9] = "nobody.there"
	rows[last-4][1] = "=B2"
	rows[last-5][0] = "with space"
	wrong += 5
	var b strings.Builder
	b.WriteString(strings.Join(header, ";") + "\r\n")
	for i, row := range rows {
		b.WriteString("\" " + strings.Join(row, "\";\"") + "\";\"" + fmt.Sprint(36+i%12) + "\"\r\n")
	}
	return []byte(b.String()), wrong
}
