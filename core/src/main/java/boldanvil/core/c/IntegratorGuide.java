package boldanvil.core.c;

import boldanvil.core.escape.Escape;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.CodeText;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Task;
import boldanvil.core.program.Tunable;
import java.util.List;
import java.util.stream.Stream;

/** A guide, written beside the code, for whoever puts it into a program of their own. */
public final class IntegratorGuide {
    private final Program program;
    private final Layout layout;
    private final CodeText t = new CodeText();

    private IntegratorGuide(Program program) {
        this.program = program;
        this.layout = Layout.of(program);
    }

    /** The guide as Markdown. */
    public static GeneratedFile of(Program program) {
        return new IntegratorGuide(program).write();
    }

    private GeneratedFile write() {
        String n = program.name();
        double tick = program.tickNanos() / 1000.0;
        t.line("# " + Escape.markdown(program.title())).line("").line("How to call `" + n + ".c`; the names are those of the diagram.")
                .line("");
        t.line("## Calls").line("```c").line("static " + CGenerator.contextType(program) + " c;").line("")
                .line(n + "_init(&c);           /* once */")
                .line("/* then every " + tick + " us: */").line("c.in.… = …;               /* inputs */").line(n + "_sample(&c);")
                .line(n + "_step(&c);")
                .line("… = c.out.…;              /* outputs */").line(n + "_advance(&c);").line("```").line("");
        t.line("- C99, no heap, no global variables: any number of contexts side by side, " + layout.size() + " bytes each.")
                .line("- Not reentrant on one context: call the three from one task, or guard them.")
                .line(idle())
                .line("- Needs `-lm` where it uses `floor`, `sqrt` and the like. Compile with `-ffp-contract=off` for the same bits as in "
                + "the simulation.").line("");
        tasks();
        ports("Inputs", true);
        ports("Outputs", false);
        tunables();
        taps();
        faults();
        return t.file(n + ".md");
    }

    /** Which of the calls do nothing in this part. */
    private String idle() {
        List<String> idle = Stream.of(Program.SAMPLE, Program.ADVANCE)
                .filter(program::isIdle)
                .map(e -> "`" + program.name() + "_" + e + "`").toList();
        return idle.isEmpty() ? "- All three calls are needed: the part has signals in continuous time." : "- " + String.join(" and ", idle)
                + (idle.size() == 1 ? " does" : " do") + " nothing in this part and may be left out.";
    }

    private void tasks() {
        if (program.tasks().isEmpty()) {
            return;
        }
        t.line("## Tasks").line("`" + program.name()
                + "_step` calls what is due, the fastest first. To give a task a priority of its own, call its three functions "
                + "yourself:").line("").line("| Task | Period | At its release, first | then, after faster tasks | and |")
                .line("|---|---:|---|---|---|");
        for (Task task : program.tasks()) {
            t.line("| " + task.name() + " | " + task.periodTicks() * program.tickNanos() / 1000.0 + " us | `" + call(task.publish())
                    + "` | `" + call(task.latch()) + "` | `"
                    + call(task.run()) + "` |");
        }
        t.line("");
    }

    private String call(String procedure) {
        return program.name() + "_" + procedure;
    }

    private static String unit(Slot s) {
        return s.unit().isEmpty() ? "–" : Escape.markdown(s.unit());
    }

    private void ports(String title, boolean inputs) {
        if (program.ports().stream().noneMatch(p -> p.isInput() == inputs)) {
            return;
        }
        t.line("## " + title).line("| Member | Type | Unit | On the diagram |").line("|---|---|---|---|");
        for (Port p : program.ports()) {
            if (p.isInput() == inputs) {
                String terminal = p.terminal() == null ? "" : ", " + p.terminal().label();
                t.line("| `" + CGenerator.access("c", p.slot()) + "` | " + CExpressions.type(p.slot().type()) + " | " + unit(p.slot())
                        + " | " + Escape.markdown(p.path()) + terminal + " |");
            }
        }
        t.line("");
    }

    private void tunables() {
        if (program.tunables().isEmpty()) {
            return;
        }
        t.line("## Values that may be changed while running").line("| Member | Type | Unit | At the start | Range | On the diagram |")
                .line("|---|---|---|---:|---|---|");
        for (Tunable u : program.tunables()) {
            t.line("| `" + CGenerator.access("c", u.slot()) + "` | " + CExpressions.type(u.slot().type()) + " | " + unit(u.slot()) + " | "
                    + u.slot().initial() + " | "
                    + range(u) + " | " + Escape.markdown(u.path()) + " |");
        }
        t.line("");
    }

    private static String range(Tunable u) {
        boolean below = u.minimum() > -Double.MAX_VALUE;
        boolean above = u.maximum() < Double.MAX_VALUE;
        return below && above ? u.minimum() + " to " + u.maximum() : below ? "from " + u.minimum() : above ? "up to " + u.maximum() : "any";
    }

    private void taps() {
        if (program.taps().isEmpty()) {
            return;
        }
        t.line("## Signals for measurement").line("| Member | Type | Unit | Bytes from the start of the context | Name |")
                .line("|---|---|---|---:|---|");
        program.taps().forEach(tap -> t.line("| `" + CGenerator.access("c", tap.slot()) + "` | " + CExpressions.type(tap.slot().type())
                + " | "
                + (tap.unit().isEmpty() ? "–" : Escape.markdown(tap.unit())) + " | " + layout.offset(tap.slot()) + " | "
                + Escape.markdown(tap.name()) + " |"));
        t.line("");
    }

    private void faults() {
        t.line("## Faults").line("`c.state.fault` is 0 as long as nothing has gone wrong. Its low 12 bits show what did, bits 12 to 15 "
                + "the kind whose place is noted "
                + "(the number of its bit, from 0), bits 16 to 31 the number of that place. Execution continues with the result named "
                + "here. Set it to 0 to clear it.").line("").line("| Bit | Meaning |").line("|---:|---|");
        for (int bit : Fault.all()) {
            t.line("| " + bit + " | " + Fault.describe(bit) + " |");
        }
        var places = FaultPlaces.of(program).paths();
        if (places.isEmpty()) {
            t.line("").line("No block of this part can raise one.");
            return;
        }
        t.line("").line("| Place | Block |").line("|---:|---|");
        for (int i = 0; i < places.size(); i++) {
            t.line("| " + (i + 1) + " | " + Escape.markdown(places.get(i)) + " |");
        }
    }
}
