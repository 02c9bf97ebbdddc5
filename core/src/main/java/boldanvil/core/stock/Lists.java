package boldanvil.core.stock;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.List;

/** Sums over lists, and what is known of a list text before its variables are known. */
final class Lists {
    private Lists() {}

    /** How many values a list text has at its outer level; enough to know degrees before variables are known. */
    static int count(String text) {
        int depth = 0;
        int n = 1;
        for (char c : text.toCharArray()) {
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ',' && depth == 0) {
                n++;
            }
        }
        return n;
    }

    /** How many rows a list of lists has; 1 for a plain list. */
    static int rows(String text) {
        int open = (int) text.chars().filter(c -> c == '[').count();
        return Math.max(1, open - 1);
    }

    /** Σ wᵢ · uᵢ; terms with weight 0 are left out. */
    static Expr weighted(List<Expr> u, double[] w) {
        Expr sum = null;
        for (int i = 0; i < u.size(); i++) {
            if (w[i] != 0) {
                var term = u.get(i).times(w[i]);
                sum = sum == null ? term : sum.plus(term);
            }
        }
        return sum == null ? Expr.of(u.getFirst().type(), 0) : sum;
    }

    /** Sum of two expressions of which the first may be missing. */
    static Expr plus(Expr sum, Expr term) {
        return sum == null ? term : sum.plus(term);
    }

    /** The value of an array that is written in a circle: {@code back} places before the one written last. */
    static Expr past(Slot array, Expr last, int back) {
        var i = last.minus(Expr.of(Type.INT32, back));
        return Expr.at(array, i.plus(Expr.of(Type.INT32, array.length())).when(i.lt(Expr.of(Type.INT32, 0)), i));
    }

    /** The place after another in an array that is written in a circle. */
    static Expr next(Slot array, Expr place) {
        return Expr.of(Type.INT32, 0).when(place.compare(Expr.Op.GE, Expr.of(Type.INT32, array.length() - 1)),
                place.plus(Expr.of(Type.INT32, 1)));
    }

    static Stmt store(Emitter e, Slot array, Expr place, Expr value) {
        return new Stmt.Store(array, place, value, e.origin());
    }
}
