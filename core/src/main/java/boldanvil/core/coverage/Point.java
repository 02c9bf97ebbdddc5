package boldanvil.core.coverage;

import boldanvil.core.program.Expr;
import java.util.List;

/** A place in a program where something is noted: numbers of hits lie from an index on. */
sealed interface Point {
    /** The block: part, subsystems and block, joined by {@code /}. */
    String path();

    int from();

    int size();

    /**
     * A choice with its conditions. There is a hit for each combination of the conditions, numbered by their bits.
     *
     * @param whole as it is written
     * @param conditions what it is made of by AND, OR and NOT; each once
     * @param text the whole in words
     * @param texts the conditions in words
     */
    record Decision(String path, Expr whole, List<Expr> conditions, String text, List<String> texts, int from) implements Point {
        @Override
        public int size() {
            return 1 << conditions.size();
        }

        /** What comes out where the conditions have some values. */
        boolean outcome(int bits) {
            return value(whole, bits);
        }

        private boolean value(Expr e, int bits) {
            int at = conditions.indexOf(e);
            if (at >= 0) {
                return (bits >> at & 1) != 0;
            }
            return switch (e) {
                case Expr.Not n -> !value(n.a(), bits);
                case Expr.Binary b when b.op() == Expr.Op.AND -> value(b.a(), bits) && value(b.b(), bits);
                case Expr.Binary b when b.op() == Expr.Op.OR -> value(b.a(), bits) || value(b.b(), bits);
                case Expr.Literal l -> l.value() != 0;
                default -> throw new IllegalStateException(e.toString());
            };
        }
    }

    /** The entries of a table, or the elements of an array, that are read. */
    record Area(String path, String table, int size, int from) implements Point {}
}
