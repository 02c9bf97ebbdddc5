package boldanvil.core.lower;

import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.List;

/** Whether a conditional subsystem runs in the present step, and what it remembers. */
final class Condition {
    Slot runs;
    final List<Slot> states = new ArrayList<>();
}
