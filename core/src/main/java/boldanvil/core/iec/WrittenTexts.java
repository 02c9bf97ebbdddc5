package boldanvil.core.iec;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.TextBlock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * The blocks of a part that the user wrote as text: each becomes a function block with that text, so that a chart stays a chart. A
 * text that means something else in a PLC, or whose names are taken, is left to be written as statements.
 */
final class WrittenTexts {
    private static final String ACTIVE = "active";

    /**
     * A function block with its text.
     *
     * @param number the function that gives the number of the active step for the flags of all steps; empty where nobody asks for it
     */
    record Block(String name, TextBlock text, String number) {
        String inside() {
            return number.isEmpty() ? text.inside() : text.insideWithFlags();
        }
    }

    /**
     * A use of such a function block.
     *
     * @param name of the instance
     * @param inputs what is given, by the names of the inputs
     * @param outputs what is taken, by the names of the outputs
     * @param active what gets the number of the active step; null for none
     */
    record Use(Block block, String name, Map<String, Expr> inputs, Map<String, Slot> outputs, Slot active) {
        /** Every slot it reads or sets. */
        List<Slot> slots() {
            List<Slot> all = new ArrayList<>();
            inputs.values().forEach(e -> Rewriter.readSlots(e, all::add));
            all.addAll(outputs.values());
            if (active != null) {
                all.add(active);
            }
            return all;
        }
    }

    private final Map<Stmt.Written, Use> uses = new IdentityHashMap<>();
    private final Map<String, Block> blocks = new LinkedHashMap<>();
    private final Set<String> libraries = new LinkedHashSet<>();
    private final Set<Slot> inside = Collections.newSetFromMap(new IdentityHashMap<>());
    private final Set<Slot> outside = Collections.newSetFromMap(new IdentityHashMap<>());
    private final StNames names;

    WrittenTexts(Program program, StNames names) {
        this.names = names;
        Set<Slot> memory = Collections.newSetFromMap(new IdentityHashMap<>());
        memory.addAll(program.slots());
        List<Stmt.Written> all = new ArrayList<>();
        for (Procedure p : program.procedures()) {
            collect(p.body(), all);
        }
        Set<String> declared = new HashSet<>();
        Map<Stmt.Written, TextBlock> plain = new IdentityHashMap<>();
        all.removeIf(w -> {
            var text = TextBlock.of(w.text());
            boolean taken = isPlain(w, text) && text.isForPlc() && isDeclarable(text, declared);
            if (taken) {
                plain.put(w, text);
            }
            return !taken;
        });
        program.procedures().forEach(p -> mention(p.body(), plain));
        program.taps().forEach(t -> outside.add(t.slot()));
        Set<Slot> known = Collections.newSetFromMap(new IdentityHashMap<>());
        known.addAll(memory);
        known.addAll(outside);
        known.addAll(inside);
        Map<Stmt.Written, Map<String, Expr>> inputs = new IdentityHashMap<>();
        all.forEach(w -> inputs.put(w, given(w, known)));
        all.forEach(w -> use(w, plain.get(w), inputs.get(w), memory));
    }

    private static void collect(List<Stmt> body, List<Stmt.Written> found) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Written w) {
                found.add(w);
            }
            s.bodies().forEach(b -> collect(b, found));
        }
    }

    /** Whether the text alone says what the block does: its types are those of the sheet, and it knows no cycle time. */
    private static boolean isPlain(Stmt.Written w, TextBlock text) {
        boolean same = w.inputs().entrySet().stream().allMatch(e -> isType(text.inputs().get(e.getKey()), e.getValue().type()))
                && w.outputs().entrySet().stream().allMatch(e -> isActive(e.getKey(), text) || isType(text.outputs().get(e.getKey()),
                        e.getValue().type()));
        return same && !text.names().contains("cycle_time") && text.steps().stream().noneMatch(s -> text.names().contains(TextBlock.flag(s)
                .toLowerCase(Locale.ROOT)));
    }

    private static boolean isActive(String output, TextBlock text) {
        return text.isChart() && output.equals(ACTIVE) && text.outputs().keySet().stream().noneMatch(ACTIVE::equalsIgnoreCase);
    }

    private static boolean isType(String written, Type type) {
        return written != null && written.equalsIgnoreCase(StExpressions.type(type));
    }

    /** Whether what stands before the block can be declared for the whole file. */
    private boolean isDeclarable(TextBlock text, Set<String> declared) {
        if (text.library().isEmpty() || libraries.contains(text.library())) {
            return true;
        }
        List<String> small = text.libraryNames().stream().map(n -> n.toLowerCase(Locale.ROOT)).toList();
        if (small.stream().anyMatch(n -> declared.contains(n) || names.isTaken(n))) {
            return false;
        }
        declared.addAll(small);
        text.libraryNames().forEach(names::fresh);
        libraries.add(text.library());
        return true;
    }

    private void mention(List<Stmt> body, Map<Stmt.Written, TextBlock> plain) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Written w && plain.containsKey(w)) {
                w.body().forEach(t -> Rewriter.usedSlots(t, inside::add));
                continue;
            }
            Rewriter.ownSlots(s, outside::add);
            s.bodies().forEach(b -> mention(b, plain));
        }
    }

    /** What a text is given, where something is left of it; those values have to be there. */
    private Map<String, Expr> given(Stmt.Written w, Set<Slot> known) {
        Map<String, Expr> inputs = new LinkedHashMap<>(w.inputs());
        inputs.values().removeIf(e -> !known.containsAll(slots(e)));
        inputs.values().forEach(e -> outside.addAll(slots(e)));
        return inputs;
    }

    private static List<Slot> slots(Expr e) {
        List<Slot> all = new ArrayList<>();
        Rewriter.readSlots(e, all::add);
        return all;
    }

    private void use(Stmt.Written w, TextBlock text, Map<String, Expr> inputs, Set<Slot> memory) {
        Map<String, Slot> outputs = new LinkedHashMap<>();
        w.outputs().forEach((name, s) -> {
            if (memory.contains(s) || outside.contains(s)) {
                outputs.put(name, s);
                outside.add(s);
            }
        });
        Slot active = isActive(ACTIVE, text) ? outputs.remove(ACTIVE) : null;
        String label = w.origin().path().substring(w.origin().path().lastIndexOf('/') + 1);
        String kind = text.isChart() ? "_chart" : "_block";
        var block = blocks.computeIfAbsent((active != null) + w.text(), _ -> new Block(names.fresh(label + kind), text,
                active == null ? "" : names.fresh(label + "_number")));
        uses.put(w, new Use(block, names.fresh(label), inputs, outputs, active));
    }

    /** What stands before all function blocks. */
    Set<String> libraries() {
        return libraries;
    }

    Collection<Block> blocks() {
        return blocks.values();
    }

    Collection<Use> uses() {
        return uses.values();
    }

    /** The use a text became; null where it is written as statements. */
    Use of(Stmt.Written w) {
        return uses.get(w);
    }

    /** Whether only texts that became function blocks know a slot. */
    boolean isInside(Slot s) {
        return inside.contains(s) && !outside.contains(s);
    }
}
