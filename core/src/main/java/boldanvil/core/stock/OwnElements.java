package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.source;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.text.ElementText;
import boldanvil.core.text.ElementText.Role;
import boldanvil.core.text.ElementText.Symbol;
import boldanvil.core.text.Mistake;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Elements of networks whose equations the user writes. */
final class OwnElements {
    static final BlockType ELEMENT = BlockType.named("equations", "Equations", Family.LANGUAGE)
            .help("An element of a physical network, written as equations. VAR_CONTACT declares its contacts and domains: ELECTRICAL, "
                    + "ROTATIONAL, TRANSLATIONAL, FLUID or THERMAL. VAR_BRANCH v, i : a TO b; names the difference of potentials between "
                    + "two contacts and the flow from one to the other; without TO the branch leads to the reference. VAR_PARAMETER, "
                    + "VAR_INPUT, VAR_OUTPUT and VAR_QUANTITY declare quantities with their units, such as R : [Ω]; an input may be BOOL. "
                    + "The parameters get their values from the list 'values', in the order of the text. Then follow as many equations as "
                    + "there are branches, outputs and quantities, in any order and solved for nothing: i = C * RATE(v, v0); where RATE is "
                    + "the rate of change of a quantity that is stored and the second argument its value at the start. IF v > vf THEN … "
                    + "ELSE … END_IF chooses between as many equations; IF v > 5 UNTIL v < 4 THEN has a memory; a condition is an input, a "
                    + "comparison, or one of each joined by AND or OR. What is linear between switchings is solved exactly, the rest by "
                    + "Newton's method. Functions: " + ElementText.FUNCTIONS.keySet().stream().sorted().collect(Collectors.joining(", "))
                    + ".")
            .with(source("equations", """
                    (* A resistor whose resistance grows with the current. *)
                    VAR_CONTACT
                        a, b : ELECTRICAL;
                    END_VAR
                    VAR_BRANCH
                        v, i : a TO b;
                    END_VAR
                    VAR_PARAMETER
                        R0 : [Ω];
                        i0 : [A];
                    END_VAR

                    v = R0 * (1 + ABS(i) / i0) * i;
                    """, "Declarations and equations."),
                    list("values", "[10 Ω, 1 A]", "", "One value for each parameter of the equations, in their order."))
            .face(OwnElements::face).summary(OwnElements::summary).mistakes(OwnElements::mistakes)
            .element(Equations::state, OwnElements::units);

    static final List<BlockType> TYPES = List.of(ELEMENT);

    private OwnElements() {}

    private static List<Mistake> mistakes(Settings s) {
        var text = ElementText.of(s.text("equations"));
        List<Mistake> all = new ArrayList<>(text.mistakes());
        text.contacts().stream().filter(c -> !Domain.labelled(c.domain().toLowerCase(Locale.ROOT)).label().equalsIgnoreCase(c.domain()))
                .forEach(c -> all.add(new Mistake(c.at().line(), c.at().column(), "There is no domain '" + c.domain() + "'.",
                "Write ELECTRICAL, ROTATIONAL, TRANSLATIONAL, FLUID or THERMAL.", false)));
        return all;
    }

    private static Face face(Settings s) {
        var text = ElementText.of(s.text("equations"));
        Face f = Face.NONE;
        int half = (text.contacts().size() + 1) / 2;
        for (int i = 0; i < text.contacts().size(); i++) {
            var c = text.contacts().get(i);
            f = f.contact(c.name(), i < half ? Side.LEFT : Side.RIGHT, Domain.labelled(c.domain().toLowerCase(Locale.ROOT)));
        }
        for (Symbol in : text.symbols(Role.INPUT)) {
            f = f.in(in.name(), Accept.REAL);
        }
        for (Symbol in : text.symbols(Role.LOGIC_INPUT)) {
            f = f.in(in.name(), Accept.LOGIC);
        }
        for (Symbol out : text.symbols(Role.OUTPUT)) {
            f = f.out(out.name());
        }
        return f;
    }

    private static String summary(Settings s) {
        var names = ElementText.of(s.text("equations")).symbols(Role.PARAMETER);
        return names.isEmpty() ? "" : names.stream().map(Symbol::name).collect(Collectors.joining(", ")) + " = " + s.text("values");
    }

    private static void units(UnitFlow flow) {
        var text = ElementText.of(flow.text("equations"));
        if (!text.mistakes().isEmpty()) {
            return;
        }
        Map<Symbol, Dimension> kinds = new HashMap<>();
        for (var b : text.branches()) {
            Domain d = Domain.labelled(b.across().unit().toLowerCase(Locale.ROOT));
            kinds.put(b.across(), Dimension.of(d.acrossUnit()).orElseThrow());
            kinds.put(b.through(), Dimension.of(d.throughUnit()).orElseThrow());
        }
        for (Role role : List.of(Role.PARAMETER, Role.INPUT, Role.OUTPUT, Role.QUANTITY)) {
            text.symbols(role).forEach(s -> kinds.put(s, kind(flow, s)));
        }
        text.symbols(Role.INPUT).forEach(s -> flow.must(s.name(), kinds.get(s)));
        text.symbols(Role.OUTPUT).forEach(s -> flow.out(s.name(), kinds.get(s)));
        Elements.contactUnits(flow, text.contacts().stream().map(c -> new Face.Contact(c.name(), Side.LEFT,
                Domain.labelled(c.domain().toLowerCase(Locale.ROOT)))).toList());
        Dimension[] given = flow.params("values");
        List<Symbol> parameters = text.symbols(Role.PARAMETER);
        for (int i = 0; i < Math.min(given.length, parameters.size()); i++) {
            Dimension wanted = kinds.get(parameters.get(i));
            if (given[i] != null && wanted != null && !given[i].fits(wanted)) {
                flow.wrong("values", "The value of '" + parameters.get(i).name() + "' is " + given[i].label() + ", but " + wanted.label()
                        + " is expected.", "Correct its unit, or the one in VAR_PARAMETER.");
            }
        }
        new EquationUnits(flow, kinds).check(text.equations());
    }

    private static Dimension kind(UnitFlow flow, Symbol s) {
        if (s.unit().isBlank() || s.unit().equals("1")) {
            return Dimension.NONE;
        }
        var d = Dimension.of(s.unit());
        if (d.isEmpty()) {
            flow.wrong("equations", "The unit '" + s.unit() + "' of '" + s.name() + "' is not known.",
                    "Write an SI unit, such as Ω, N·m or "
                    + "kg/s.");
        }
        return d.orElse(null);
    }
}
