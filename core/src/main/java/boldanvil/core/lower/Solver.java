package boldanvil.core.lower;

import java.util.Arrays;
import java.util.List;

/** The methods that integrate a part's continuous states. */
public enum Solver {
    EULER("euler", "Euler, order 1"),
    HEUN("heun", "Heun, order 2"),
    BS3("bs3", "Bogacki–Shampine, order 3"),
    RK4("rk4", "Runge–Kutta, order 4"),
    ROS2("ros2", "Rosenbrock, order 2, for stiff plants"),
    DP54("dp54", "Dormand–Prince 5(4), variable step");

    private final String id;
    private final String title;

    Solver(String id, String title) {
        this.id = id;
        this.title = title;
    }

    /** The name in project files. */
    public String id() {
        return id;
    }

    /** What people see. */
    public String title() {
        return title;
    }

    /** The solver with a name, or null. */
    public static Solver named(String id) {
        return Arrays.stream(values()).filter(s -> s.id.equals(id)).findFirst().orElse(null);
    }

    public static List<String> names() {
        return Arrays.stream(values()).map(Solver::id).toList();
    }
}
