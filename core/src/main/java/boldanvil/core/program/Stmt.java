package boldanvil.core.program;

import java.util.List;

/** A statement. Each remembers the block it came from. */
public sealed interface Stmt {
    /** The block this comes from. */
    Origin origin();

    /** Sets a slot. */
    record Assign(Slot target, Expr value, Origin origin) implements Stmt {
        public Assign {
            if (target.type() != value.type()) {
                throw new IllegalArgumentException(
                        "Types do not fit at " + origin.path() + ": " + target + " takes no " + value.type().label());
            }
        }
    }

    /** Runs one of two bodies. */
    record If(Expr condition, List<Stmt> yes, List<Stmt> no, Origin origin) implements Stmt {
        public If {
            yes = List.copyOf(yes);
            no = List.copyOf(no);
        }
    }

    /** Runs the body {@code count} times with {@code counter} (an INT32 local) from 0 up. */
    record Repeat(Slot counter, int count, List<Stmt> body, Origin origin) implements Stmt {
        public Repeat {
            body = List.copyOf(body);
        }
    }

    /** Runs a procedure of the same program. */
    record Invoke(String procedure, Origin origin) implements Stmt {}
}
