package boldanvil.core.network;

import boldanvil.core.program.Expr;
import java.util.List;

/** Where an element states its equations. Quantities are SI. */
public interface Element {
    /**
     * Two contacts within the element with a flow from one to the other.
     *
     * @param across potential of the first contact less that of the second
     * @param through flow into the first contact and out of the second
     */
    record Branch(Form across, Form through) {}

    /** The contact at which an element gives off what it loses. */
    String HEAT = "heat";

    /** A parameter's value. */
    double value(String parameter);

    /** A parameter's text. */
    String text(String parameter);

    /**
     * A branch from a contact to another one. It needs an equation.
     *
     * @param to the other contact; empty for the reference, where the potential is zero
     */
    Branch branch(String from, String to);

    /** Makes the potential of a contact zero. */
    void reference(String contact);

    /** A signal at an input. */
    Form input(String port);

    /** A quantity of its own. It needs an equation. */
    Form unknown();

    /**
     * The rate of change of what is stored, per second.
     *
     * @param stored the quantity that is stored and cannot jump
     * @param initial its value at the start
     */
    Form rate(Form stored, double initial);

    /**
     * The rate of change of a quantity that follows from what other elements store, per second.
     *
     * @param following such a quantity, as the speed between two inertias
     */
    Form rate(Form following);

    /** States that a form is zero. */
    void equation(Form zero);

    /** What a signal and what is across a switch have to do with its position. */
    enum Rule {
        /** On while the gate is; without a gate, while its own quantities say so, as a diode. */
        EITHER,
        /** On while the gate is, and its own quantities say so. */
        BOTH,
        /** The gate is wanted to switch on; then it stays on by its own quantities, as a thyristor. */
        LATCHED
    }

    /**
     * Its own quantities, by which a switch goes on and off.
     *
     * @param starts switches on while it is above a limit; of a directed switch, while its amount is
     * @param above that limit
     * @param stays keeps it on while it is above another limit; of a directed switch, times the sense of what switched it on, 1 or −1
     */
    record Own(Form starts, double above, Form stays, double staysAbove, boolean directed) {
        /** A switch that is on while a form is positive, in both positions. */
        public static Own of(Form conducts) {
            return of(conducts, conducts);
        }

        /** A switch that goes on while one form is positive, and stays on while another one is. */
        public static Own of(Form starts, Form stays) {
            return new Own(starts, 0, stays, 0, false);
        }
    }

    /**
     * What switches a switch.
     *
     * @param gate a logic input; empty for none
     * @param pulse a carrier in the place of a gate; null for none
     * @param own its own quantities; null for none
     */
    record Switching(String gate, Pulse pulse, Own own, Rule rule) {
        /** A switch that a signal switches. */
        public static Switching by(String gate) {
            return new Switching(gate, null, null, Rule.EITHER);
        }

        /** A switch whose edges come at their instants, between two steps too. */
        public static Switching by(Pulse pulse) {
            return new Switching("", pulse, null, Rule.EITHER);
        }

        /** A switch that follows from its own quantities. */
        public static Switching by(Own own) {
            return new Switching("", null, own, Rule.EITHER);
        }

        /** The same, which also follows from its own quantities. */
        public Switching with(Rule rule, Own also) {
            return new Switching(gate, pulse, also, rule);
        }

        /** Whether it follows from its own quantities. */
        public boolean isOwn() {
            return own != null;
        }

        /** Whether something else switches it. */
        public boolean isGated() {
            return !gate.isEmpty() || pulse != null;
        }
    }

    /** A switch of an element. */
    interface Switch {
        /** 1 while it is on without its gate, 0 else; of a directed switch the sense in which it is on, 1 or −1. */
        Form alone();
    }

    /** A switch, for equations that depend on its position. */
    Switch switched(Switching how);

    /** States that one of two forms is zero: the first while a switch is on, the second while it is off. */
    void equation(Switch by, Form on, Form off);

    /** States that one of two forms is zero, by a switch for this equation only. */
    default void equation(Switching how, Form on, Form off) {
        equation(switched(how), on, off);
    }

    /**
     * When a pulsed switch is on: from one share of its period to another, each a constant plus a factor times the duty.
     *
     * @param duty the input with the duty, −1 to 1, taken at the beginning of each period
     * @param period in seconds
     * @param phase share of a period by which it begins later
     * @param outside whether it is on outside of the two rather than between them
     */
    record Pulse(String duty, double period, double phase, double from, double fromDuty, double to, double toDuty, boolean outside) {}

    /** A function that is not linear, written as an expression. */
    interface Curve {
        /** @param arguments SI; all of one type of float, which the result has too */
        Expr of(List<Expr> arguments);
    }

    /** The value of a function of some forms. */
    Form function(Curve curve, Form... arguments);

    /**
     * Gives off heat at the contact {@link #HEAT}, where the element has one. Several add up.
     *
     * @param power W, of the arguments
     */
    void loses(Curve power, Form... arguments);

    /** Gives off all the power that goes into some branches; for elements that store nothing. */
    default void loses(Branch... branches) {
        Form[] pairs = new Form[2 * branches.length];
        for (int i = 0; i < branches.length; i++) {
            pairs[2 * i] = branches[i].across();
            pairs[2 * i + 1] = branches[i].through();
        }
        loses(Element::products, pairs);
    }

    /** The sum of products of two each. */
    static Expr products(List<Expr> pairs) {
        Expr sum = pairs.get(0).times(pairs.get(1));
        for (int i = 2; i < pairs.size(); i += 2) {
            sum = sum.plus(pairs.get(i).times(pairs.get(i + 1)));
        }
        return sum;
    }

    /** A parameter's values. */
    double[] list(String parameter);

    /** Sets an output. */
    void output(String port, Form value);

    /** Reports parameters that make no sense. */
    void problem(String cause, String cure);
}
