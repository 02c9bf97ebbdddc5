package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Work;
import boldanvil.core.program.Stmt;
import boldanvil.core.text.StructuredTextParser.FunctionBlockContext;
import boldanvil.core.text.StructuredTextParser.FunctionContext;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.TreeMap;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.Token;

/** Turns one parsed text into statements. */
public final class Compilation {
    private static final int MOST_MISTAKES = 30;
    private static final Map<String, FunctionBlockContext> LIBRARY = new HashMap<>();
    private static final Map<String, Map<String, String>> STANDARD_BLOCKS = new TreeMap<>();

    static {
        for (FunctionBlockContext fb : library().functionBlock()) {
            LIBRARY.put(Scope.key(fb.name.getText()), fb);
            STANDARD_BLOCKS.put(fb.name.getText().toUpperCase(Locale.ROOT), variables(fb));
        }
    }

    private final Host host;
    private final List<Mistake> mistakes;
    private final Map<String, FunctionContext> functions = new HashMap<>();
    private final Map<String, FunctionBlockContext> blocks = new HashMap<>(LIBRARY);
    private final Map<String, boldanvil.core.program.Function> compiled = new HashMap<>();
    private final Map<String, List<TextType>> signatures = new HashMap<>();
    private final Set<String> compiling = new HashSet<>();
    private final Map<String, Symbol> everywhere = new HashMap<>();
    private int fresh;
    private int written;

    private Compilation(Host host, List<Mistake> mistakes) {
        this.host = host;
        this.mistakes = new ArrayList<>(mistakes);
        everywhere.put("cycle_time", new Symbol.Value(new Symbol.Typed(Expr.of(host.cycleTime()), TextType.TIME)));
    }

    /**
     * What a text became.
     *
     * @param outputs values of the outputs by name, after the statements
     * @param active for a chart, the number of its active step, from 1; null for a text
     */
    public record Result(List<Stmt> statements, Map<String, Expr> outputs, Expr active, List<Mistake> mistakes) {
        public boolean isUsable() {
            return mistakes.stream().allMatch(Mistake::isWarning);
        }
    }

    /** The variables of the standard's function blocks, by the name of the block in capitals. */
    static Map<String, Map<String, String>> standardBlocks() {
        return STANDARD_BLOCKS;
    }

    /** Inputs and outputs of a function block with their types. */
    static Map<String, String> variables(FunctionBlockContext fb) {
        Map<String, String> all = new LinkedHashMap<>();
        fb.varBlock().stream().filter(v -> v.kind != null && v.kind.getType() != StructuredTextLexer.VAR)
                .flatMap(v -> v.declaration().stream()).filter(d -> d.typeSpec() != null)
                .forEach(d -> d.ID().forEach(id -> all.put(id.getText(), d.typeSpec().getText())));
        return all;
    }

    private static StructuredTextParser.LibraryContext library() {
        try (InputStream in = Compilation.class.getResourceAsStream("library.st")) {
            List<Mistake> mistakes = new ArrayList<>();
            var tree = ParsedText.parser(new String(in.readAllBytes(), StandardCharsets.UTF_8), mistakes).library();
            if (!mistakes.isEmpty()) {
                throw new IllegalStateException("The library of function blocks has an error: " + mistakes);
            }
            return tree;
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Compiles the text of a function block or chart. */
    public static Result block(ParsedText text, Host host) {
        return within(text, host, c -> c.block(text));
    }

    /** Compiles as long as the text keeps to its limits. */
    private static Result within(ParsedText text, Host host, Function<Compilation, Result> how) {
        var c = new Compilation(host, text.mistakes());
        try {
            Result r = how.apply(c);
            double work = Work.of(r.statements()) + r.outputs().values().stream().mapToDouble(Work::of).sum();
            if (work <= TextLimits.OPERATIONS) {
                return r;
            }
            c.add(new Mistake(1, 1, String.format(Locale.ROOT, "One step would take %.2g operations, more than %.2g.", work,
                    TextLimits.OPERATIONS),
                    "Look for nested functions and loops.", false));
        } catch (TooLargeException e) {
            c.add(new Mistake(1, 1, "The text grows to more than " + TextLimits.STATEMENTS
                    + " statements, with all instances of its function blocks.",
                    "Use fewer instances within each other.", false));
        }
        return new Result(List.of(), Map.of(), null, List.copyOf(c.mistakes));
    }

    /** Leaves a text that grows without measure. */
    private static final class TooLargeException extends RuntimeException {
        private static final long serialVersionUID = 1;

        TooLargeException() {
            super(null, null, false, false);
        }
    }

    /** Counts a statement or an instance. */
    void count() {
        if (++written > TextLimits.STATEMENTS) {
            throw new TooLargeException();
        }
    }

    private Result block(ParsedText text) {
        var c = this;
        List<Stmt> out = new ArrayList<>();
        Map<String, Expr> outputs = new LinkedHashMap<>();
        Expr active = null;
        if (text.mistakes().isEmpty()) {
            var unit = text.unit();
            unit.function().forEach(f -> c.declare(c.functions, f.name, f));
            unit.functionBlock().forEach(f -> c.declare(c.blocks, f.name, f));
            var scope = new Scope(c.everywhere);
            var declarations = new Declarer(c, scope, "");
            declarations.block(unit);
            unit.functionBlock().forEach(c::checkAlone);
            unit.function().forEach(f -> c.function(f.name));
            if (unit.chart() != null) {
                var chart = new ChartWriter(c, scope, unit.chart());
                out.addAll(chart.statements());
                active = chart.active();
            } else {
                out.addAll(new BodyCompiler(c, scope, null).body(unit.statements()));
            }
            declarations.outputs().forEach((name, v) -> outputs.put(name, Expr.read(v.slot())));
        }
        return new Result(out, outputs, active, List.copyOf(c.mistakes));
    }

    /** Compiles one expression over the inputs of its host; the result is of the real type given. */
    public static Result formula(ParsedText text, Host host, Map<String, Expr> inputs, boolean wide) {
        return within(text, host, c -> c.formula(text, inputs, wide));
    }

    private Result formula(ParsedText text, Map<String, Expr> inputs, boolean wide) {
        var c = this;
        List<Stmt> out = new ArrayList<>();
        Map<String, Expr> outputs = new LinkedHashMap<>();
        if (text.mistakes().isEmpty()) {
            var real = wide ? TextType.LREAL : TextType.REAL;
            var scope = new Scope(c.everywhere);
            inputs.forEach((name, e) -> scope.add(name, new Symbol.Value(new Symbol.Typed(e, real))));
            c.guarded(() -> {
                var body = new BodyCompiler(c, scope, null);
                var tree = text.formula().expression();
                var value = body.expressions().value(tree, real);
                outputs.put("y", body.expressions().to(value, value.type() == TextType.BOOL ? TextType.BOOL : real, tree.getStart())
                        .expr());
                out.addAll(body.written());
            });
        }
        return new Result(out, outputs, null, List.copyOf(c.mistakes));
    }

    private <T> void declare(Map<String, T> table, Token name, T tree) {
        boolean known = functions.containsKey(Scope.key(name.getText())) || blocks.containsKey(Scope.key(name.getText()))
                || TextType.named(name.getText()) != null || StandardFunctions.isKnown(name.getText());
        if (known) {
            mistake(name, "The name '" + name.getText() + "' is already used.", "Choose another one.");
        } else {
            table.put(Scope.key(name.getText()), tree);
        }
    }

    /** A function block is looked at even if no instance of it exists. */
    private void checkAlone(FunctionBlockContext fb) {
        var instance = instance(fb, "unused_" + fb.name.getText(), fb.name);
        if (instance != null) {
            new BodyCompiler(this, instance.scope(), null).body(fb.statements());
        }
    }

    Host host() {
        return host;
    }

    Map<String, Symbol> everywhere() {
        return everywhere;
    }

    int fresh() {
        return ++fresh;
    }

    FunctionBlockContext functionBlock(String name) {
        return blocks.get(Scope.key(name));
    }

    /** A new instance with its variables; null where function blocks contain each other. */
    Symbol.Instance instance(FunctionBlockContext fb, String prefix, Token at) {
        String key = "fb " + Scope.key(fb.name.getText());
        if (!compiling.add(key)) {
            mistake(at, "The function block '" + fb.name.getText() + "' contains itself.", "Remove the instance.");
            return null;
        }
        count();
        var scope = new Scope(everywhere);
        new Declarer(this, scope, prefix + "_").instance(fb);
        compiling.remove(key);
        return new Symbol.Instance(fb, scope);
    }

    /** The function with a name, compiled when it is first needed; null where there is none. */
    boldanvil.core.program.Function function(Token name) {
        String key = Scope.key(name.getText());
        FunctionContext tree = functions.get(key);
        if (tree == null) {
            return null;
        }
        if (compiled.containsKey(key)) {
            return compiled.get(key);
        }
        if (!compiling.add(key)) {
            throw new MistakeException(new Mistake(name.getLine(), name.getCharPositionInLine() + 1, "The function '" + name.getText()
                    + "' calls itself.", "Use a loop instead.", false));
        }
        var f = new FunctionCompiler(this, tree).compile(host.functionName(tree.name.getText()));
        compiling.remove(key);
        compiled.put(key, f);
        return f;
    }

    void signature(String name, List<TextType> types) {
        signatures.put(Scope.key(name), types);
    }

    /** Types of the parameters, then of the result. */
    List<TextType> signature(String name) {
        return signatures.get(Scope.key(name));
    }

    FunctionContext functionTree(String name) {
        return functions.get(Scope.key(name));
    }

    void mistake(Token at, String cause, String cure) {
        add(new Mistake(at.getLine(), at.getCharPositionInLine() + 1, cause, cure, false));
    }

    void warning(Token at, String cause, String cure) {
        add(new Mistake(at.getLine(), at.getCharPositionInLine() + 1, cause, cure, true));
    }

    void add(Mistake m) {
        if (mistakes.size() < MOST_MISTAKES && !mistakes.contains(m)) {
            mistakes.add(m);
        }
    }

    static MistakeException stop(ParserRuleContext at, String cause, String cure) {
        Token t = at.getStart();
        return new MistakeException(new Mistake(t.getLine(), t.getCharPositionInLine() + 1, cause, cure, false));
    }

    /** Runs something and notes the mistake that stops it. */
    void guarded(Runnable some) {
        try {
            some.run();
        } catch (MistakeException e) {
            add(e.mistake());
        } catch (IllegalArgumentException e) {
            add(new Mistake(1, 1, e.getMessage() + ".", "Convert the values to one type.", false));
        }
    }
}
