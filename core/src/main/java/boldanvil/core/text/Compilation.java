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
    /** Calls within calls. */
    private static final int DEEPEST = 60;
    private static final Map<String, FunctionBlockContext> LIBRARY = new HashMap<>();
    /** The same blocks where the time between two scans varies. */
    private static final Map<String, FunctionBlockContext> SCAN_LIBRARY = new HashMap<>();
    private static final Map<String, Map<String, String>> STANDARD_BLOCKS = new TreeMap<>();

    static {
        for (FunctionBlockContext fb : library("library.st").functionBlock()) {
            LIBRARY.put(Scope.key(fb.name.getText()), fb);
            STANDARD_BLOCKS.put(fb.name.getText().toUpperCase(Locale.ROOT), variables(fb));
        }
        SCAN_LIBRARY.putAll(LIBRARY);
        library("scan-timers.st").functionBlock().forEach(fb -> SCAN_LIBRARY.put(Scope.key(fb.name.getText()), fb));
    }

    private final Host host;
    private final List<Mistake> mistakes;
    private final Map<String, FunctionContext> functions = new HashMap<>();
    private final Map<String, FunctionBlockContext> blocks;
    private final Map<String, boldanvil.core.program.Function> compiled = new HashMap<>();
    private final Map<String, List<TextType>> signatures = new HashMap<>();
    private final Set<String> compiling = new HashSet<>();
    private final Set<ParserRuleContext> inside = java.util.Collections.newSetFromMap(new java.util.IdentityHashMap<>());
    private final Scope everywhere = new Scope(null);
    private final Types types = new Types(this);
    private final int mostStatements;
    private int fresh;
    private int written;
    private int depth;

    private Compilation(Host host, List<Mistake> mistakes) {
        this.host = host;
        this.mistakes = new ArrayList<>(mistakes);
        boolean scans = host.now() != null;
        blocks = new HashMap<>(scans ? SCAN_LIBRARY : LIBRARY);
        mostStatements = scans ? TextLimits.STATEMENTS_OF_APPLICATION : TextLimits.STATEMENTS;
        if (scans) {
            everywhere.add("scan_time", new Symbol.Value(new Symbol.Typed(host.now(), TextType.TIME)));
        } else {
            everywhere.add("cycle_time", new Symbol.Value(new Symbol.Typed(Expr.of(host.cycleTime()), TextType.TIME)));
        }
    }

    /** A compilation of a whole program. */
    static Compilation ofApplication(Host host, List<Mistake> mistakes) {
        return new Compilation(host, mistakes);
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

    private static StructuredTextParser.LibraryContext library(String file) {
        try (InputStream in = Compilation.class.getResourceAsStream(file)) {
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
            c.tooLarge();
        }
        return new Result(List.of(), Map.of(), null, List.copyOf(c.mistakes));
    }

    void tooLarge() {
        add(new Mistake(1, 1, "The text grows to more than " + mostStatements + " statements, with all instances of its function blocks.",
                "Use fewer instances within each other.", false));
    }

    /** Leaves a text that grows without measure. */
    static final class TooLargeException extends RuntimeException {
        private static final long serialVersionUID = 1;

        TooLargeException() {
            super(null, null, false, false);
        }
    }

    /** Counts a statement or an instance. */
    void count() {
        if (++written > mostStatements) {
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
            c.declare(unit.function(), unit.functionBlock(), unit.typeBlock());
            var scope = new Scope(c.everywhere);
            var declarations = new Declarer(c, scope, "", 1);
            declarations.block(unit);
            c.checkAlone(unit.function(), unit.functionBlock());
            if (unit.chart() != null) {
                scope.chart(new ChartMemory(c.host, "", 1));
                var chart = new ChartWriter(c, scope, unit.chart(), null);
                out.addAll(chart.statements());
                active = chart.active();
            } else {
                out.addAll(new BodyCompiler(c, scope, null).body(unit.statements()));
            }
            declarations.outputs().forEach((name, v) -> outputs.put(name, Expr.read(((Storage.Cell) v.storage()).slot())));
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

    /** Makes functions, function blocks and types known. */
    void declare(List<FunctionContext> someFunctions, List<FunctionBlockContext> someBlocks,
            List<StructuredTextParser.TypeBlockContext> someTypes) {
        someFunctions.forEach(f -> declare(functions, f.name, f));
        someBlocks.forEach(f -> declare(blocks, f.name, f));
        someTypes.forEach(b -> b.typeDeclaration().forEach(types::declare));
        types.all();
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

    /** Functions and function blocks are looked at even if nothing uses them. */
    void checkAlone(List<FunctionContext> someFunctions, List<FunctionBlockContext> someBlocks) {
        someBlocks.forEach(fb -> guarded(() -> checkAlone(fb)));
        someFunctions.forEach(f -> guarded(() -> {
            if (f.result == null || !isPlain(f)) {
                checkAlone(f.name.getText(), f.varBlock(), f.result, f.statements(), everywhere, null);
            } else {
                function(f.name);
            }
        }));
    }

    private void checkAlone(FunctionBlockContext fb) {
        String name = fb.name.getText();
        var scope = instance(fb, "unused_" + name, 1, null, fb.name);
        bindAlone(scope, name);
        deeper(fb, fb.name, () -> fb.chart() != null ? new ChartWriter(this, scope, fb.chart(), null).statements()
                : new BodyCompiler(this, scope, null, fb).body(fb.statements()));
        fb.method().forEach(m -> guarded(() -> checkAlone(m.name.getText(), m.varBlock(), m.result, m.statements(), scope, fb)));
    }

    /** A function or method with variables of its own for all parameters. */
    private void checkAlone(String name, List<StructuredTextParser.VarBlockContext> variables, StructuredTextParser.TypeSpecContext result,
            StructuredTextParser.StatementsContext statements, Scope outer, FunctionBlockContext self) {
        var scope = new Scope(outer);
        if (result != null) {
            scope.add(name, unused(types.of(result, everywhere), name));
        }
        new Declarer(this, scope, "unused_" + name + "_", 1).variables(variables);
        bindAlone(scope, name);
        deeper(statements, statements.getStart(), () -> new BodyCompiler(this, scope, null, self).body(statements));
    }

    private void bindAlone(Scope scope, String name) {
        scope.parameters().values().stream().filter(p -> p.direction() == Scope.Direction.IN_OUT)
                .forEach(p -> scope.bind(p.name(), unused(p.type(), name + "_" + p.name())));
    }

    private Symbol unused(DataType t, String name) {
        if (t instanceof DataType.Block b) {
            return new Symbol.Place(new Storage.Instance(b, instance(b.tree(), "unused_" + name, 1, null, b.tree().name)), true);
        }
        var initial = new InitialValues(new BodyCompiler(this, everywhere, null).expressions()).of(t, null);
        return new Symbol.Place(Memory.allocate(t, "unused_" + name, 1, initial, Memory.lasting(host)), true);
    }

    /** Whether a function can be one of the program: single values in, one out, and nothing else that it touches. */
    boolean isPlain(FunctionContext f) {
        boolean loops = host.budget() != null && contains(f.statements());
        return f.result != null && !loops && f.varBlock().stream().allMatch(v -> {
            int kind = v.kind.getType();
            boolean in = kind == StructuredTextParser.VAR_INPUT;
            return (in || kind == StructuredTextParser.VAR || kind == StructuredTextParser.VAR_TEMP) && (!in || v.declaration().stream()
                    .allMatch(d -> types.of(d, everywhere) instanceof DataType.Plain));
        }) && types.of(f.result, everywhere) instanceof DataType.Plain && (host.now() == null || !mentionsMemory(f));
    }

    private static boolean contains(org.antlr.v4.runtime.tree.ParseTree tree) {
        if (tree instanceof StructuredTextParser.ForContext || tree instanceof StructuredTextParser.WhileContext
                || tree instanceof StructuredTextParser.RepeatContext) {
            return true;
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            if (contains(tree.getChild(i))) {
                return true;
            }
        }
        return false;
    }

    /** Whether a function names a global variable or an address, or calls what does. */
    private boolean mentionsMemory(org.antlr.v4.runtime.tree.ParseTree tree) {
        if (tree instanceof StructuredTextParser.VariableContext v) {
            if (v.ADDRESS() != null || everywhere.find(v.ID().getText()) instanceof Symbol s
                    && (s instanceof Symbol.Place || v.getText().equalsIgnoreCase("scan_time") || v.getText()
                            .equalsIgnoreCase("first_scan"))) {
                return true;
            }
            var called = functions.get(Scope.key(v.getText()));
            if (called != null && v.getParent() instanceof StructuredTextParser.ApplicationContext && !isPlainGuarded(called)) {
                return true;
            }
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            if (mentionsMemory(tree.getChild(i))) {
                return true;
            }
        }
        return false;
    }

    private boolean isPlainGuarded(FunctionContext f) {
        String key = "plain " + Scope.key(f.name.getText());
        if (!compiling.add(key)) {
            return true;
        }
        try {
            return isPlain(f);
        } finally {
            compiling.remove(key);
        }
    }

    /**
     * Goes into a call.
     *
     * @param tree what is called; it must not call itself
     */
    <T> T deeper(ParserRuleContext tree, Token at, java.util.function.Supplier<T> inner) {
        if (!inside.add(tree)) {
            throw stop(at, "A function block or function calls itself here.", "Use a loop instead.");
        }
        if (++depth > DEEPEST) {
            depth--;
            inside.remove(tree);
            throw stop(at, "Calls are nested deeper than " + DEEPEST + ".", "Call fewer functions within each other.");
        }
        try {
            return inner.get();
        } finally {
            depth--;
            inside.remove(tree);
        }
    }

    /** Whether the text may have a type: integers of 64 bits are for programs of a PLC. */
    boolean takes(TextType t) {
        return !t.type().isWide() || host.now() != null;
    }

    /** Stops at a type that the text may not have. */
    void require(TextType t, ParserRuleContext at) {
        if (!takes(t)) {
            throw stop(at, "A " + t + " is for programs of a PLC.", "Use DINT or LREAL on a sheet.");
        }
    }

    Types types() {
        return types;
    }

    List<Mistake> mistakes() {
        return mistakes;
    }

    Host host() {
        return host;
    }

    /** The names that every text knows. */
    Scope everywhere() {
        return everywhere;
    }

    int fresh() {
        return ++fresh;
    }

    FunctionBlockContext functionBlock(String name) {
        return blocks.get(Scope.key(name));
    }

    /**
     * New instances with their variables.
     *
     * @param count how many share each slot
     * @param initial what some variables begin with; null for what the function block says
     */
    Scope instance(FunctionBlockContext fb, String prefix, int count, StructuredTextParser.InitializerContext initial, Token at) {
        String key = "fb " + Scope.key(fb.name.getText());
        if (!compiling.add(key)) {
            throw stop(at, "The function block '" + fb.name.getText() + "' contains itself.", "Remove the instance.");
        }
        try {
            count();
            var scope = new Scope(everywhere);
            new Declarer(this, scope, prefix + "_", count).instance(fb, initial);
            return scope;
        } finally {
            compiling.remove(key);
        }
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
        boldanvil.core.program.Function f;
        try {
            f = deeper(tree, name, () -> new FunctionCompiler(this, tree).compile(host.functionName(tree.name.getText())));
        } finally {
            compiling.remove(key);
        }
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
        return stop(at.getStart(), cause, cure);
    }

    static MistakeException stop(Token t, String cause, String cure) {
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
