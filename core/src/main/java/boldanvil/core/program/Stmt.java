package boldanvil.core.program;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;

/** A statement. Each remembers the block it came from. */
public sealed interface Stmt {
    /** The block this comes from. */
    Origin origin();

    /** The bodies nested in this statement. */
    default List<List<Stmt>> bodies() {
        return switch (this) {
            case If i -> List.of(i.yes(), i.no());
            case Repeat r -> List.of(r.body());
            case While w -> List.of(w.body());
            case Group g -> List.of(g.body());
            case Written w -> List.of(w.body());
            case Assign _, Store _, Break _, Raise _, Invoke _ -> List.of();
        };
    }

    /** The expressions this statement itself evaluates. */
    default List<Expr> expressions() {
        return switch (this) {
            case Assign a -> List.of(a.value());
            case Store s -> List.of(s.index(), s.value());
            case If i -> List.of(i.condition());
            case While w -> List.of(w.condition());
            case Repeat _, Break _, Raise _, Group _, Written _, Invoke _ -> List.of();
        };
    }

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

    /** Sets an element of an array; the index is held within the array. */
    record Store(Slot array, Expr index, Expr value, Origin origin) implements Stmt {
        public Store {
            if (!array.isArray() || array.type() != value.type() || index.type() != Type.INT32) {
                throw new IllegalArgumentException("Types do not fit at " + origin.path() + ": " + array + " takes no "
                        + value.type().label());
            }
        }
    }

    /**
     * Runs the body while the condition holds, but at most {@code limit} times; then it raises
     * {@link Fault#ENDLESS_LOOP} and continues behind the loop.
     */
    record While(Expr condition, int limit, List<Stmt> body, Origin origin) implements Stmt {
        public While {
            body = List.copyOf(body);
        }
    }

    /** Leaves the innermost loop. */
    record Break(Origin origin) implements Stmt {}

    /** Raises a fault bit; see {@link Fault}. */
    record Raise(int bit, Origin origin) implements Stmt {}

    /** Statements that belong together, such as those of one subsystem; alike groups may become one function. */
    record Group(String title, List<Stmt> body, Origin origin) implements Stmt {
        public Group {
            body = List.copyOf(body);
        }
    }

    /**
     * Statements that were written as text by the user. A language that takes the text can have it in the place of the body.
     *
     * @param text Structured Text or a sequential function chart (IEC 61131-3), the inside of a function block
     * @param inputs what its inputs are given; one that is missing here is not read
     * @param outputs which slots the body sets to its outputs; one that is missing here is not read
     */
    record Written(String text, Map<String, Expr> inputs, Map<String, Slot> outputs, List<Stmt> body, Origin origin) implements Stmt {
        public Written {
            inputs = Collections.unmodifiableMap(new LinkedHashMap<>(inputs));
            outputs = Collections.unmodifiableMap(new LinkedHashMap<>(outputs));
            body = List.copyOf(body);
        }

        /** The same text with its inputs, its outputs and its body changed. */
        public Written with(UnaryOperator<Expr> input, UnaryOperator<Slot> output, List<Stmt> newBody) {
            Map<String, Expr> in = new LinkedHashMap<>();
            inputs.forEach((name, e) -> in.put(name, input.apply(e)));
            Map<String, Slot> out = new LinkedHashMap<>();
            outputs.forEach((name, s) -> out.put(name, output.apply(s)));
            return new Written(text, in, out, newBody, origin);
        }
    }

    /** Runs a procedure of the same program. */
    record Invoke(String procedure, Origin origin) implements Stmt {}
}
