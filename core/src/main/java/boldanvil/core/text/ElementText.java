package boldanvil.core.text;

import boldanvil.core.text.StructuredTextParser.ApplicationContext;
import boldanvil.core.text.StructuredTextParser.BinaryContext;
import boldanvil.core.text.StructuredTextParser.BracketsContext;
import boldanvil.core.text.StructuredTextParser.BranchesContext;
import boldanvil.core.text.StructuredTextParser.CasesContext;
import boldanvil.core.text.StructuredTextParser.ConstantContext;
import boldanvil.core.text.StructuredTextParser.ContactsContext;
import boldanvil.core.text.StructuredTextParser.EqualityContext;
import boldanvil.core.text.StructuredTextParser.EquationContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.QuantitiesContext;
import boldanvil.core.text.StructuredTextParser.ReadContext;
import boldanvil.core.text.StructuredTextParser.UnaryContext;
import boldanvil.core.text.StructuredTextParser.WhenCaseContext;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.Token;
import org.antlr.v4.runtime.misc.Interval;
import org.antlr.v4.runtime.tree.TerminalNode;

/** An element of a physical network as it is written: contacts, branches, quantities and the equations between them. */
public final class ElementText {
    /** Functions of equations, with the number of their arguments; RATE takes one or two. */
    public static final Map<String, Integer> FUNCTIONS = Map.ofEntries(Map.entry("ABS", 1), Map.entry("SQRT", 1), Map.entry("LN", 1),
            Map.entry("LOG", 1), Map.entry("EXP", 1), Map.entry("SIN", 1), Map.entry("COS", 1), Map.entry("TAN", 1), Map.entry("ATAN", 1),
            Map.entry("ATAN2", 2), Map.entry("EXPT", 2), Map.entry("MIN", 2), Map.entry("MAX", 2), Map.entry("LIMIT", 3));
    /** The rate of change of a quantity that is stored; the second argument is its value at the start. */
    public static final String RATE = "RATE";

    private static final int KEPT = 100;
    private static final Map<String, ElementText> CACHE = Collections.synchronizedMap(new LinkedHashMap<>(64, 0.75F, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, ElementText> eldest) {
            return size() > KEPT;
        }
    });

    /** What a name is. */
    public enum Role {
        /** Difference of potentials between two contacts. */
        ACROSS,
        /** Flow between two contacts. */
        THROUGH, PARAMETER, INPUT, LOGIC_INPUT, OUTPUT,
        /** Something between equations. */
        QUANTITY;

        /** Whether the network computes it, so that it needs an equation. */
        public boolean isUnknown() {
            return this == THROUGH || this == OUTPUT || this == QUANTITY;
        }
    }

    /**
     * What a name stands for.
     *
     * @param unit as it is written; of a branch the name of its domain; empty for a logic input
     */
    public record Symbol(String name, Role role, String unit) {}

    /** A contact, the name of its domain, and where it is declared. */
    public record Contact(String name, String domain, Term.Spot at) {}

    /** @param to empty for the reference */
    public record Branch(Symbol across, Symbol through, String from, String to) {}

    /** What an element states. */
    public sealed interface Equation {}

    /** Two terms that are equal. */
    public record Equality(Term left, Term right) implements Equation {}

    /**
     * Equations that hold while a condition does, and others that hold else.
     *
     * @param until ends what the condition began; null where the condition itself does
     */
    public record Choice(Term condition, Term until, List<Equation> yes, List<Equation> no) implements Equation {}

    private final List<Mistake> mistakes = new ArrayList<>();
    private final Map<String, Symbol> symbols = new LinkedHashMap<>();
    private final List<Contact> contacts = new ArrayList<>();
    private final List<Branch> branches = new ArrayList<>();
    private final List<Equation> equations = new ArrayList<>();

    private ElementText(String text) {
        TextLimits.check(text).ifPresent(mistakes::add);
        if (!mistakes.isEmpty()) {
            return;
        }
        var tree = ParsedText.parser(text, mistakes).element();
        for (var b : tree.elementBlock()) {
            switch (b) {
                case ContactsContext c -> contacts(c);
                case BranchesContext c -> branches(c);
                case QuantitiesContext c -> quantities(c);
                default -> { }
            }
        }
        if (mistakes.isEmpty()) {
            equations.addAll(equations(tree.equation()));
            count(tree.getStart());
        }
    }

    /** The element a text states; with mistakes where it does not state one. */
    public static ElementText of(String text) {
        return CACHE.computeIfAbsent(text, ElementText::new);
    }

    public List<Mistake> mistakes() {
        return List.copyOf(mistakes);
    }

    public List<Contact> contacts() {
        return List.copyOf(contacts);
    }

    public List<Branch> branches() {
        return List.copyOf(branches);
    }

    public List<Equation> equations() {
        return List.copyOf(equations);
    }

    /** The names with a role, in the order of the text. */
    public List<Symbol> symbols(Role role) {
        return symbols.values().stream().filter(s -> s.role() == role).toList();
    }

    private void contacts(ContactsContext c) {
        for (int i = 0; i < c.names().size(); i++) {
            String domain = i < c.ID().size() ? c.ID(i).getText() : "";
            for (var id : c.names(i).ID()) {
                if (contacts.stream().anyMatch(k -> key(k.name()).equals(key(id.getText())))) {
                    mistake(id.getSymbol(), "The contact '" + id.getText() + "' is declared twice.", "Choose another name.");
                } else {
                    contacts.add(new Contact(id.getText(), domain, spot(id.getSymbol())));
                }
            }
        }
    }

    private void branches(BranchesContext c) {
        List<List<Token>> lines = new ArrayList<>(List.of(new ArrayList<>()));
        for (int i = 1; i < c.getChildCount(); i++) {
            if (c.getChild(i).getText().equals(";")) {
                lines.add(new ArrayList<>());
            } else if (c.getChild(i) instanceof TerminalNode n
                    && n.getSymbol().getType() == StructuredTextLexer.ID) {
                lines.getLast().add(n.getSymbol());
            }
        }
        for (List<Token> names : lines) {
            if (names.size() < 3) {
                continue;
            }
            String domain = "";
            for (Token contact : names.subList(2, names.size())) {
                var found = contacts.stream().filter(k -> key(k.name()).equals(key(contact.getText()))).findFirst();
                if (found.isEmpty()) {
                    mistake(contact, "There is no contact '" + contact.getText() + "'.", "Declare it in VAR_CONTACT, before its branch.");
                    return;
                }
                if (!domain.isEmpty() && !key(domain).equals(key(found.get().domain()))) {
                    mistake(contact, "The branch leads from a contact that is " + domain + " to one that is " + found.get().domain() + ".",
                            "Let a branch join contacts of one domain.");
                }
                domain = found.get().domain();
            }
            Symbol across = declare(names.get(0), Role.ACROSS, domain);
            Symbol through = declare(names.get(1), Role.THROUGH, domain);
            branches.add(new Branch(across, through, named(names.get(2)), names.size() > 3 ? named(names.get(3)) : ""));
        }
    }

    /** The contact's name as it was declared. */
    private String named(Token contact) {
        return contacts.stream().map(Contact::name).filter(n -> key(n).equals(key(contact.getText()))).findFirst().orElseThrow();
    }

    private void quantities(QuantitiesContext c) {
        List<ParserRuleContext> names = new ArrayList<>();
        for (var child : c.children) {
            switch (child) {
                case StructuredTextParser.NamesContext n -> names.add(n);
                case StructuredTextParser.UnitTextContext u -> declare(c, names.getLast(), unit(u));
                case TerminalNode n when n.getSymbol().getType() == StructuredTextLexer.ID -> {
                    if (n.getText().equalsIgnoreCase("BOOL") && c.kind.getType() == StructuredTextLexer.VAR_INPUT) {
                        declare(c, names.getLast(), "");
                    } else {
                        mistake(n.getSymbol(), "A unit in brackets is needed here.", "Write [V] for a voltage, [1] for a pure number; only "
                                + "an input may be BOOL.");
                    }
                }
                default -> { }
            }
        }
    }

    private void declare(QuantitiesContext c, ParserRuleContext names, String unit) {
        Role role = switch (c.kind.getType()) {
            case StructuredTextLexer.VAR_PARAMETER -> Role.PARAMETER;
            case StructuredTextLexer.VAR_QUANTITY -> Role.QUANTITY;
            case StructuredTextLexer.VAR_OUTPUT -> Role.OUTPUT;
            default -> unit.isEmpty() ? Role.LOGIC_INPUT : Role.INPUT;
        };
        ((StructuredTextParser.NamesContext) names).ID().forEach(id -> declare(id.getSymbol(), role, unit));
    }

    private static String unit(ParserRuleContext u) {
        String whole = u.getStart().getInputStream().getText(Interval.of(u.getStart().getStartIndex(), u.getStop().getStopIndex()));
        return whole.substring(1, whole.length() - 1).strip();
    }

    private Symbol declare(Token name, Role role, String unit) {
        var s = new Symbol(name.getText(), role, unit);
        boolean known = FUNCTIONS.containsKey(key(name.getText())) || key(name.getText()).equals(RATE);
        if (known || symbols.putIfAbsent(key(name.getText()), s) != null) {
            mistake(name, "The name '" + name.getText() + "' is already used.", "Choose another one.");
        }
        return s;
    }

    private List<Equation> equations(List<EquationContext> trees) {
        List<Equation> all = new ArrayList<>();
        for (var t : trees) {
            switch (t) {
                case EqualityContext e -> equality(e).ifPresent(all::add);
                case CasesContext c -> all.add(cases(c, 0));
                default -> { }
            }
        }
        return all;
    }

    private Optional<Equation> equality(EqualityContext e) {
        if (e.expression() instanceof BinaryContext b && b.op.getText().equals("=")) {
            Term left = term(b.expression(0));
            Term right = term(b.expression(1));
            return Optional.of(new Equality(left, right));
        }
        mistake(e.getStart(), "This is not an equation.", "Write two terms with = between them.");
        return Optional.empty();
    }

    private Equation cases(CasesContext c, int i) {
        WhenCaseContext w = c.whenCase(i);
        List<Equation> yes = equations(w.equation());
        List<Equation> no = i + 1 < c.whenCase().size() ? List.of(cases(c, i + 1)) : equations(c.equation());
        if (size(yes) != size(no)) {
            mistake(w.getStart(), "The condition chooses between " + size(yes) + " and " + size(no) + " equations.",
                    "Write as many equations on both sides.");
        }
        return new Choice(term(w.expression(0)), w.until == null ? null : term(w.until), yes, no);
    }

    private static int size(List<Equation> some) {
        return some.stream().mapToInt(e -> e instanceof Choice c ? size(c.yes()) : 1).sum();
    }

    /** As many equations as there are unknown quantities. */
    private void count(Token at) {
        long wanted = symbols.values().stream().filter(s -> s.role().isUnknown()).count();
        int stated = size(equations);
        if (contacts.isEmpty()) {
            mistake(at, "The element has no contact.", "Declare one in VAR_CONTACT, such as a, b : ELECTRICAL;");
        } else if (mistakes.isEmpty() && stated != wanted) {
            mistake(at, "There are " + stated + " equations for " + wanted + " branches, quantities and outputs.",
                    stated < wanted ? "Add an equation for each." : "Remove equations, or declare what they give in VAR_QUANTITY.");
        }
    }

    private Term term(ExpressionContext e) {
        var at = spot(e.getStart());
        return switch (e) {
            case BracketsContext b -> term(b.expression());
            case ConstantContext c -> constant(c, at);
            case ReadContext r -> name(r, at);
            case UnaryContext u -> u.op.getText().equals("+") ? term(u.expression())
                    : new Term.Sign(key(u.op.getText()), term(u.expression()), at);
            case BinaryContext b -> pair(b, at);
            case ApplicationContext a -> call(a, at);
            default -> wrong(e.getStart(), at, "This is not an expression.", "Correct it.");
        };
    }

    private Term wrong(Token t, Term.Spot at, String cause, String cure) {
        mistake(t, cause, cure);
        return new Term.Number(0, at);
    }

    private Term constant(ConstantContext c, Term.Spot at) {
        var l = c.literal();
        String text = l.getText().replace("_", "");
        if (l.TRUE() != null || l.FALSE() != null) {
            return new Term.Logic(l.TRUE() != null, at);
        }
        if (l.INTEGER() == null && l.REAL() == null) {
            return wrong(c.getStart(), at, "Only plain numbers stand in equations.", "Write a number such as 2.5 or 1E-6.");
        }
        return new Term.Number(Double.parseDouble(text), at);
    }

    private Term name(ReadContext r, Term.Spot at) {
        var v = r.variable();
        Symbol s = v.ID() != null && v.selector().isEmpty() ? symbols.get(key(v.ID().getText())) : null;
        return s == null ? wrong(r.getStart(), at, "There is no quantity '" + v.getText() + "'.",
                "Correct the name, or declare it; a potential or a flow is named in VAR_BRANCH.") : new Term.Name(s, at);
    }

    private Term pair(BinaryContext b, Term.Spot at) {
        String op = key(b.op.getText());
        if (op.equals("MOD") || op.equals("XOR") || op.equals("=") || op.equals("<>")) {
            return wrong(b.op, at, "'" + b.op.getText() + "' has no place within an equation.",
                    "Use + − * / **, and < or > in conditions. Each equation has one =.");
        }
        return new Term.Pair(term(b.expression(0)), op.equals("&") ? "AND" : op, term(b.expression(1)), at);
    }

    private Term call(ApplicationContext a, Term.Spot at) {
        String name = key(a.variable().getText());
        List<Term> arguments = a.argument().stream().filter(x -> x.expression() != null).map(x -> term(x.expression())).toList();
        int wanted = name.equals(RATE) ? Math.clamp(arguments.size(), 1, 2) : FUNCTIONS.getOrDefault(name, -1);
        if (wanted < 0) {
            return wrong(a.getStart(), at, "There is no function '" + a.variable().getText() + "' for equations.",
                    "Use RATE, " + String.join(", ", FUNCTIONS.keySet().stream().sorted().toList()) + ".");
        }
        if (arguments.size() != wanted) {
            return wrong(a.getStart(), at, name + " takes " + wanted + " arguments, not " + arguments.size() + ".",
                    "Write the same number.");
        }
        return new Term.Call(name, arguments, at);
    }

    private static Term.Spot spot(Token t) {
        return new Term.Spot(t.getLine(), t.getCharPositionInLine() + 1);
    }

    private void mistake(Token at, String cause, String cure) {
        mistakes.add(new Mistake(at.getLine(), at.getCharPositionInLine() + 1, cause, cure, false));
    }

    private static String key(String name) {
        return name.toUpperCase(Locale.ROOT);
    }

    /** All terms of some equations, conditions included. */
    public static void forEach(List<Equation> some, Consumer<Equation> action) {
        for (Equation e : some) {
            action.accept(e);
            if (e instanceof Choice c) {
                forEach(c.yes(), action);
                forEach(c.no(), action);
            }
        }
    }
}
