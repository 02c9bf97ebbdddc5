package boldanvil.core.stock;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Element;
import boldanvil.core.network.Element.Branch;
import boldanvil.core.network.Form;
import boldanvil.core.program.Expr;
import java.util.List;

/** What elements of several domains state alike. */
final class Statements {
    private Statements() {}

    /** One contact, a. */
    static Face one(Domain d) {
        return Face.NONE.contact("a", Side.LEFT, d);
    }

    /** Two contacts, a and b. */
    static Face two(Domain d) {
        return one(d).contact("b", Side.RIGHT, d);
    }

    /** Zero where the branch is a resistance. */
    static Form resistance(Branch x, double r) {
        return x.across().minus(x.through().times(r));
    }

    /** across = R · through. */
    static Branch resisting(Element e) {
        Branch x = e.branch("a", "b");
        e.equation(resistance(x, e.value("R")));
        return x;
    }

    /** The sum of squares. */
    static Expr squares(List<Expr> all) {
        return all.stream().map(x -> x.times(x)).reduce(Expr::plus).orElseThrow();
    }

    /** A flow out of contact a, from the reference: a parameter, to which a signal is added. */
    static void driving(Element e, String parameter) {
        Branch x = e.branch("a", "");
        e.equation(x.through().plus(Form.of(e.value(parameter))).plus(e.input("u")));
    }

    /** A potential of contact a over the reference: a parameter, to which a signal is added. */
    static void holding(Element e, String parameter) {
        holding(e, e.branch("a", ""), parameter);
    }

    /** A difference of potentials across a branch: a parameter, to which a signal is added. */
    static void holding(Element e, Branch x, String parameter) {
        e.equation(x.across().minus(Form.of(e.value(parameter))).minus(e.input("u")));
    }

    /** A branch from contact a to the reference through which nothing flows. */
    static Branch idle(Element e) {
        Branch x = e.branch("a", "");
        e.equation(x.through());
        return x;
    }

    /** Gives the flow from contact a to contact b, with nothing across. */
    static void metering(Element e, String port) {
        Branch x = e.branch("a", "b");
        e.equation(x.across());
        e.output(port, x.through());
    }

    /** The integral of a form. */
    static Form integral(Element e, Form of, String initial) {
        return integral(e, of, e.value(initial));
    }

    /** The integral of a form from a value on. */
    static Form integral(Element e, Form of, double initial) {
        Form sum = e.unknown();
        e.equation(e.rate(sum, initial).minus(of));
        return sum;
    }

    /** A share held between a lower limit and 1. */
    static Expr share(Expr x, double low) {
        return x.clamp(Expr.of(x.type(), low), Expr.of(x.type(), 1));
    }
}
