package schedule_test

import (
	"fmt"

	"dynacor/core/schedule"
)

// Two crews share one pump: the second joint waits for it.
func ExampleCrewSchedule() {
	r, err := schedule.CrewSchedule(nil,
		schedule.CrewInput{Crews: 2, Tools: []schedule.ToolCount{{Name: "pump", Count: 1}}, Tasks: []schedule.Task{
			{ID: "north", Duration: 40, Tools: []string{"pump"}},
			{ID: "south", Duration: 30, Tools: []string{"pump"}},
			{ID: "leak test", Duration: 20, After: []string{"north", "south"}},
		}})
	fmt.Println(r.Start, r.Makespan, err)
	// Output:
	// [0 40 70] 90 <nil>
}
