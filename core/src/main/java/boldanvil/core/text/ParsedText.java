package boldanvil.core.text;

import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.BaseErrorListener;
import org.antlr.v4.runtime.CharStreams;
import org.antlr.v4.runtime.CommonTokenStream;
import org.antlr.v4.runtime.RecognitionException;
import org.antlr.v4.runtime.Recognizer;
import org.antlr.v4.runtime.tree.ParseTree;

/** A text and its parse tree. */
public final class ParsedText {
    private static final int MOST_MISTAKES = 20;
    private static final int KEPT = 200;
    private static final Map<String, ParsedText> CACHE = Collections.synchronizedMap(new LinkedHashMap<>(64, 0.75F, true) {
        private static final long serialVersionUID = 1;

        @Override
        protected boolean removeEldestEntry(Map.Entry<String, ParsedText> eldest) {
            return size() > KEPT;
        }
    });

    /**
     * An input or output of the function block.
     *
     * @param type the IR's type, as declared
     */
    public record Variable(String name, Type type) {}

    private final List<Mistake> mistakes = new ArrayList<>();
    private StructuredTextParser.UnitContext unit;
    private StructuredTextParser.FormulaContext formula;
    private StructuredTextParser.PlcProgramContext application;

    private enum Form { BLOCK, FORMULA, APPLICATION }

    private ParsedText(String text, Form form) {
        String checked = checked(text, form == Form.APPLICATION ? TextLimits.APPLICATION : 1);
        var parser = parser(checked, mistakes);
        switch (form) {
            case FORMULA -> formula = parser.formula();
            case BLOCK -> unit = parser.unit();
            case APPLICATION -> application = parser.plcProgram();
        }
    }

    private String checked(String text, int scale) {
        var tooMuch = TextLimits.check(text, scale);
        tooMuch.ifPresent(mistakes::add);
        return tooMuch.isPresent() ? "" : text;
    }

    /** The text of a function block or chart. */
    public static ParsedText block(String text) {
        return CACHE.computeIfAbsent(text, t -> new ParsedText(t, Form.BLOCK));
    }

    /** One expression. */
    public static ParsedText formula(String text) {
        return CACHE.computeIfAbsent("=" + text, _ -> new ParsedText(text, Form.FORMULA));
    }

    /** The whole program of a PLC. */
    public static ParsedText application(String text) {
        return new ParsedText(text, Form.APPLICATION);
    }

    static StructuredTextParser parser(String text, List<Mistake> mistakes) {
        var listener = new BaseErrorListener() {
            @Override
            public void syntaxError(Recognizer<?, ?> r, Object symbol, int line, int column, String message, RecognitionException e) {
                if (mistakes.size() < MOST_MISTAKES) {
                    mistakes.add(new Mistake(line, column + 1, "The text cannot be parsed here: " + plain(message) + ".",
                            "Correct it, or check whether something is missing before it.", false));
                }
            }
        };
        var lexer = new StructuredTextLexer(CharStreams.fromString(text));
        lexer.removeErrorListeners();
        lexer.addErrorListener(listener);
        var tokens = new CommonTokenStream(lexer);
        tokens.fill();
        SoftKeywords.soften(tokens.getTokens());
        var parser = new StructuredTextParser(tokens);
        parser.removeErrorListeners();
        parser.addErrorListener(listener);
        return parser;
    }

    private static String plain(String message) {
        String text = message.replace("<EOF>", "the end").replaceAll("\\s+", " ");
        int list = text.indexOf(" expecting {");
        return list < 0 ? text : text.substring(0, list);
    }

    /** What is wrong with its form. */
    public List<Mistake> mistakes() {
        return List.copyOf(mistakes);
    }

    StructuredTextParser.UnitContext unit() {
        return unit;
    }

    StructuredTextParser.FormulaContext formula() {
        return formula;
    }

    StructuredTextParser.PlcProgramContext application() {
        return application;
    }

    /** Whether the text is a chart. */
    public boolean isChart() {
        return unit.chart() != null;
    }

    public List<Variable> inputs() {
        return variables(StructuredTextParser.VAR_INPUT);
    }

    public List<Variable> outputs() {
        return variables(StructuredTextParser.VAR_OUTPUT);
    }

    private List<Variable> variables(int kind) {
        List<Variable> found = new ArrayList<>();
        for (var block : unit.varBlock()) {
            if (block.kind == null || block.kind.getType() != kind) {
                continue;
            }
            for (var d : block.declaration()) {
                var spec = d.typeSpec();
                TextType t = spec == null || spec.ID() == null ? null : carried(spec.ID().getText());
                if (t != null) {
                    d.ID().forEach(id -> found.add(new Variable(id.getText(), t.type())));
                }
            }
        }
        return found;
    }

    /** The elementary type that carries a type of the text; null for others. */
    private TextType carried(String name) {
        TextType elementary = TextType.named(name);
        if (elementary != null) {
            // Integers of 64 bits are for programs of a PLC; the compiler says so.
            return elementary.type().isWide() ? null : elementary;
        }
        for (var b : unit.typeBlock()) {
            for (var t : b.typeDeclaration()) {
                if (t.name != null && t.name.getText().equalsIgnoreCase(name)) {
                    return t.enumeration() != null ? t.enumeration().base == null ? TextType.DINT : TextType.named(t.enumeration().base
                            .getText()) : t.typeSpec() != null && t.typeSpec().ID() != null && !t.typeSpec().ID().getText()
                            .equalsIgnoreCase(name) ? carried(t.typeSpec().ID().getText()) : null;
                }
            }
        }
        return null;
    }

    /** Names of the steps of a chart, in the order of the text. */
    public List<String> steps() {
        return unit.chart() == null ? List.of() : unit.chart().step().stream().filter(s -> s.ID() != null).map(s -> s.ID().getText())
                .toList();
    }

    /** The variables an expression reads, in the order of their first mention. */
    public List<String> names() {
        Set<String> names = new LinkedHashSet<>();
        collect(formula, names);
        return List.copyOf(names);
    }

    private static void collect(ParseTree tree, Set<String> names) {
        if (tree instanceof StructuredTextParser.VariableContext v && v.ID() != null
                && !(v.getParent() instanceof StructuredTextParser.ApplicationContext)) {
            names.add(v.ID().getText());
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            collect(tree.getChild(i), names);
        }
    }
}
