package boldanvil.core.lower;

import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.List;

/** One discrete task while it is being written. */
final class TaskBody {
    final List<FlatBlock> blocks = new ArrayList<>();
    final List<Stmt> publish = new ArrayList<>();
    final List<Stmt> latch = new ArrayList<>();
    final List<Stmt> outputs = new ArrayList<>();
    final List<Stmt> updates = new ArrayList<>();
    /** Set once it has run; null where nobody asks. */
    Slot hasRun;
}
