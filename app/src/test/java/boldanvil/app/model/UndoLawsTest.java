package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.RepetitionInfo;
import org.junit.jupiter.api.io.TempDir;

/** Any sequence of edits, undone, gives the same bytes; what is saved after it reads back as it is. */
class UndoLawsTest {
    @TempDir
    private Path folder;

    @RepeatedTest(6)
    void anySequenceOfEditsIsUndoneAndRedoneToTheByte(RepetitionInfo info) throws Exception {
        var w = new Workspace(Runnable::run, Runnable::run);
        w.open(Demo.copyTo(folder));
        try {
            var edits = new SheetEdits(w);
            var random = new Random(info.getCurrentRepetition());
            var before = ProjectWriter.files(w.project());
            List<java.util.Map<String, String>> states = new ArrayList<>(List.of(before));
            for (int i = 0; i < 60; i++) {
                edit(w, edits, random);
                var now = ProjectWriter.files(w.project());
                if (!now.equals(states.getLast())) {
                    states.add(now);
                }
            }
            Path saved = folder.resolve("saved");
            ProjectWriter.write(w.project(), saved);
            assertThat(ProjectWriter.files(ProjectReader.read(saved))).isEqualTo(states.getLast());
            while (w.undoName().isPresent()) {
                w.undo();
            }
            assertThat(ProjectWriter.files(w.project())).isEqualTo(before);
            while (w.redoName().isPresent()) {
                w.redo();
            }
            assertThat(ProjectWriter.files(w.project())).isEqualTo(states.getLast());
        } finally {
            w.close();
        }
    }

    private static void edit(Workspace w, SheetEdits edits, Random random) {
        var parts = w.project().parts();
        var part = parts.get(random.nextInt(parts.size()));
        var sheet = part.sheets().get(random.nextInt(part.sheets().size()));
        var ref = new SheetRef(part.id(), sheet.id());
        Set<String> some = sheet.blocks().stream().filter(_ -> random.nextInt(4) == 0).map(Block::id).collect(Collectors.toSet());
        String one = sheet.blocks().isEmpty() ? "" : sheet.blocks().get(random.nextInt(sheet.blocks().size())).id();
        var stock = Stock.all();
        try {
            switch (random.nextInt(16)) {
                case 0 -> edits.add(ref, stock.get(random.nextInt(stock.size())), random.nextInt(900), random.nextInt(600));
                case 1 -> edits.move(ref, some, Set.of(), 10 * random.nextInt(20), -10);
                case 2 -> edits.delete(ref, some, Set.of(), Set.of());
                case 3 -> edits.look(ref, some, "turn", random.nextBoolean() ? Look::turnedOnce : Look::mirroredOnce);
                case 4 -> edits.rename(ref, one, "name " + random.nextInt(50));
                case 5 -> edits.group(ref, part.id(), some, "group");
                case 6 -> edits.ungroup(ref, part.id(), one);
                case 7 -> edits.paste(ref, edits.copy(ref, some, Set.of()));
                case 8 -> edits.duplicate(ref, some, 40, 40);
                case 9 -> edits.deleteAndJoin(ref, some);
                case 10 -> edits.addMark(ref, Mark.Kind.values()[random.nextInt(2)], "mark", 10, 10, 100, 50);
                case 11 -> edits.resize(ref, one, 200, 100);
                case 12 -> sheet.wires().stream().skip(random.nextInt(3)).findFirst().ifPresent(x -> edits.lay(ref, x, x.laid(List.of(
                        new boldanvil.core.diagram.Lane(true, random.nextInt(500))))));
                case 13 -> edits.addBehind(ref, stock.get(random.nextInt(stock.size())), one);
                case 14 -> sheet.wires().stream().findFirst().ifPresent(x -> edits.insert(ref, one, x, 10, 10));
                default -> edits.set(ref, one, "k", Integer.toString(random.nextInt(9)));
            }
        } catch (FindingException | java.util.NoSuchElementException e) {
            // An edit that cannot be made changes nothing.
        }
    }
}
