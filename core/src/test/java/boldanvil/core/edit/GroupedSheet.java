package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.FindingException;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.PartLowering;
import boldanvil.core.program.Program;
import boldanvil.core.quantity.Variables;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * A random sheet, and the same with some of its blocks in a subsystem.
 *
 * @param group id of the subsystem
 */
record GroupedSheet(Project before, SheetRef ref, Project grouped, String group) {
    private static final int TICKS = 40;

    /** Empty where nothing but ports of the part was selected. */
    static Optional<GroupedSheet> of(long seed) {
        Project before = PartBuilder.project(List.of(RandomSheets.part(seed, 25).part()));
        String part = before.parts().getFirst().id();
        var ref = new SheetRef(part, before.parts().getFirst().main().id());
        var random = new Random(seed);
        Set<String> some = before.sheet(ref).orElseThrow().blocks().stream().filter(_ -> random.nextInt(3) == 0).map(Block::id)
                .collect(Collectors.toSet());
        try {
            Project grouped = Grouping.extract(before, ref, part, some, "group");
            return Optional.of(new GroupedSheet(before, ref, grouped, grouped.sheet(ref).orElseThrow().blocks().stream()
                    .filter(b -> b.name().equals("group")).findFirst().orElseThrow().id()));
        } catch (FindingException e) {
            return Optional.empty();
        }
    }

    static Program program(Project p) {
        var lowered = PartLowering.lower(p.parts().getFirst(), Variables.resolve(p.variableTexts()).values());
        return lowered.program().orElseThrow(() -> new AssertionError(lowered.findings()));
    }

    /** All outputs over some ticks. Of a fault only whether there is one: the number of its block may be another. */
    static List<String> values(Project p) {
        var program = program(p);
        return CompiledC.lines(program, JvmCompiler.compile(program).instantiate(), TICKS, v -> v).stream().map(line -> {
            String[] words = line.split(" ");
            words[2] = words[2].equals("0") ? "0" : "fault";
            return String.join(" ", words);
        }).toList();
    }
}
