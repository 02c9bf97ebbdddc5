package boldanvil.core.program;

import java.util.List;

/** How many operations statements are: a measure of how long they take to run, to compile and to check. */
public final class Work {
    /** Rounds of a loop whose number is not known. */
    private static final int ROUNDS = 10;

    private Work() {}

    /** Operations of some statements, those of the functions they call included; both branches of a choice count. */
    public static double of(List<Stmt> body) {
        double sum = 0;
        for (Stmt s : body) {
            double own = 1;
            for (Expr e : s.expressions()) {
                own += of(e);
            }
            double inner = 0;
            for (List<Stmt> b : s.bodies()) {
                inner += of(b);
            }
            sum += own + inner * (s instanceof Stmt.Repeat r ? r.count() : s instanceof Stmt.While ? ROUNDS : 1);
        }
        return sum;
    }

    /** Operations of an expression. */
    public static double of(Expr e) {
        double sum = e instanceof Expr.Apply a ? 1 + a.function().work() : 1;
        for (Expr c : e.children()) {
            sum += of(c);
        }
        return sum;
    }
}
