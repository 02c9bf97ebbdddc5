package boldanvil.core.network;

/** Where an element states its equations. Quantities are SI. */
public interface Element {
    /**
     * Two contacts within the element with a flow from one to the other.
     *
     * @param across potential of the first contact less that of the second
     * @param through flow into the first contact and out of the second
     */
    record Branch(Form across, Form through) {}

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

    /** States that a form is zero. */
    void equation(Form zero);

    /**
     * States that one of two forms is zero: the first while a switch is on, the second while it is off.
     *
     * @param gate a logic input that switches it on; empty for none
     * @param conducts switches it on while positive, in the unit of the domain's potential; null for none
     */
    void equation(String gate, Form conducts, Form on, Form off);

    /**
     * When a pulsed switch is on: from one share of its period to another, each a constant plus a factor times the duty.
     *
     * @param duty the input with the duty, 0 to 1, taken at the beginning of each period
     * @param period in seconds
     * @param phase share of a period by which it begins later
     */
    record Pulse(String duty, double period, double phase, double from, double fromDuty, double to, double toDuty) {}

    /** As the switched equation, with a switch whose edges come at their instants, between two steps too. */
    void equation(Pulse pulse, Form on, Form off);

    /** Sets an output. */
    void output(String port, Form value);

    /** Reports parameters that make no sense. */
    void problem(String cause, String cure);
}
