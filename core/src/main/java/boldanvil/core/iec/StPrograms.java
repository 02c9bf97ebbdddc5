package boldanvil.core.iec;

import boldanvil.core.output.CodeText;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/** The programs of a part, one for each task, and what they have in common. */
final class StPrograms {
    private final Program program;
    private final StNames names;
    private final StTasks tasks;
    private final StDeclarations declarations;
    private final Map<String, String> addresses;
    private final String main;
    private final String block;

    /**
     * @param addresses direct addresses of ports, by their names
     * @param main the program of the base task
     * @param block the function block of the base task
     */
    StPrograms(Program program, StNames names, StTasks tasks, StDeclarations declarations, Map<String, String> addresses, String main,
            String block) {
        this.program = program;
        this.names = names;
        this.tasks = tasks;
        this.declarations = declarations;
        this.addresses = addresses;
        this.main = main;
        this.block = block;
    }

    void write(CodeText t) {
        tasks.units().forEach(u -> program(t, u));
        configuration(t);
    }

    /** The program of a task. */
    String name(StTasks.Unit u) {
        return u.due() == null ? main : names.of("program", main + "_" + u.rate());
    }

    private String task(StTasks.Unit u) {
        return u.due() == null ? "base" : names.of("task", "every_" + u.rate());
    }

    /** The function block of a task. */
    String block(StTasks.Unit u) {
        return u.due() == null ? block : names.of("block", block + "_" + u.rate());
    }

    /** The program that connects what a task does to the outside. */
    private void program(CodeText t, StTasks.Unit u) {
        List<Port> mine = program.ports().stream().filter(p -> !tasks.isCommon(p.slot()) && tasks.owner(p.slot()) == u).toList();
        t.open("PROGRAM " + name(u));
        StDeclarations.section(t, "VAR", mine.stream().filter(Port::isInput).toList(), p -> port(t, p));
        StDeclarations.section(t, "VAR", mine.stream().filter(p -> !p.isInput()).toList(), p -> port(t, p));
        t.open("VAR").line("part : " + block(u) + ";").close("END_VAR").close("");
        List<String> given = new ArrayList<>();
        mine.forEach(p -> given.add(names.of(p.slot()) + (p.isInput() ? " := " : " => ") + names.of(p.slot())));
        t.line("part(" + String.join(", ", given) + ");").line("END_PROGRAM").line("");
    }

    private void port(CodeText t, Port p) {
        declarations.port(t, p.slot(), addresses.getOrDefault(p.name(), ""));
    }

    /** What several tasks know, and the tasks. */
    private void configuration(CodeText t) {
        t.open("CONFIGURATION " + main + "_configuration");
        Map<Slot, Port> ports = new IdentityHashMap<>();
        program.ports().forEach(p -> ports.put(p.slot(), p));
        List<Slot> common = new ArrayList<>(program.slots().stream().filter(s -> tasks.isCommon(s) && s != program.fault()).toList());
        tasks.units().stream().map(StTasks.Unit::due).filter(Objects::nonNull).forEach(common::add);
        StDeclarations.section(t, "VAR_GLOBAL", common, s -> {
            if (ports.containsKey(s)) {
                port(t, ports.get(s));
            } else {
                declarations.declare(t, s);
            }
        });
        t.open("RESOURCE main ON PLC").line("TASK base(INTERVAL := " + time(program.tickNanos()) + ", PRIORITY := 1);");
        int priority = 1;
        for (var u : tasks.units()) {
            if (u.due() != null) {
                t.line("TASK " + task(u) + "(SINGLE := " + names.of(u.due()) + ", PRIORITY := " + ++priority + ");");
            }
        }
        tasks.units().forEach(u -> t.line("PROGRAM " + name(u) + " WITH " + task(u) + " : " + name(u) + ";"));
        t.close("END_RESOURCE").close("END_CONFIGURATION");
    }

    static String time(long nanos) {
        return nanos % 1_000_000_000 == 0 ? "T#" + nanos / 1_000_000_000 + "s" : nanos % 1_000_000 == 0 ? "T#" + nanos / 1_000_000 + "ms"
                : nanos % 1_000 == 0 ? "T#" + nanos / 1_000 + "us" : "T#" + nanos + "ns";
    }
}
