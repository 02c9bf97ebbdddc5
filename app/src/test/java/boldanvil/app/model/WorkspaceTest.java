package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.app.Demo;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class WorkspaceTest {
    @TempDir
    private Path folder;

    private final Workspace w = new Workspace(Runnable::run, Runnable::run);

    @BeforeEach
    void open() throws IOException {
        w.open(Demo.copyTo(folder));
    }

    private static Project with(Project p, String name) {
        var next = new ArrayList<>(p.variables());
        next.add(new Variable(name, "1", ""));
        return p.withVariables(next);
    }

    private boolean has(String name) {
        return w.project().variableTexts().containsKey(name);
    }

    @Test
    void anOpenedProjectIsCleanAndWithoutFindings() {
        assertThat(w.project().name()).isEqualTo("Larkmere Lock");
        assertThat(w.isDirty()).isFalse();
        assertThat(w.findings()).noneMatch(Finding::isError);
        assertThat(w.undoName()).isEmpty();
    }

    @Test
    void aChangeIsUndoneAndDoneAgainByName() {
        w.edit("add one", p -> with(p, "one"));
        w.edit("add two", p -> with(p, "two"));
        assertThat(w.undoName()).hasValue("add two");
        w.undo();
        assertThat(has("two")).isFalse();
        assertThat(has("one")).isTrue();
        assertThat(w.redoName()).hasValue("add two");
        w.redo();
        assertThat(has("two")).isTrue();
        w.undo();
        w.undo();
        assertThat(w.isDirty()).isFalse();
        w.undo();
        assertThat(w.project()).isEqualTo(ProjectReader.read(folder));
    }

    @Test
    void aNewChangeForgetsWhatWasUndone() {
        w.edit("add one", p -> with(p, "one"));
        w.undo();
        w.edit("add two", p -> with(p, "two"));
        assertThat(w.redoName()).isEmpty();
        w.redo();
        assertThat(has("one")).isFalse();
    }

    @Test
    void whatChangesNothingIsNoChange() {
        w.edit("nothing", p -> p);
        assertThat(w.undoName()).isEmpty();
    }

    @Test
    void findingsFollowTheChange() {
        w.edit("break", p -> p.withVariables(List.of()));
        assertThat(w.findings()).anyMatch(Finding::isError);
        w.undo();
        assertThat(w.findings()).noneMatch(Finding::isError);
    }

    @Test
    void listenersHearOfChangeAndReview() {
        var heard = new AtomicInteger();
        w.onChange(heard::incrementAndGet);
        w.edit("add one", p -> with(p, "one"));
        assertThat(heard.get()).isEqualTo(2);
    }

    @Test
    void aReviewThatComesLateIsPassedOver() {
        List<Runnable> waiting = new ArrayList<>();
        var slow = new Workspace(waiting::add, Runnable::run);
        slow.edit("break", p -> p.withVariables(List.of(new Variable("a", "nonsense +", ""))));
        slow.edit("fix", p -> p.withVariables(List.of(new Variable("a", "1", ""))));
        waiting.get(1).run();
        assertThat(slow.findings()).isEmpty();
        waiting.get(0).run();
        assertThat(slow.findings()).as("the older review must not win").isEmpty();
    }

    @Test
    void savingWritesAndIsClean() {
        w.edit("add one", p -> with(p, "one"));
        assertThat(w.isDirty()).isTrue();
        w.save();
        assertThat(w.isDirty()).isFalse();
        assertThat(ProjectReader.read(folder).variableTexts()).containsKey("one");
        w.undo();
        assertThat(w.isDirty()).isTrue();
    }

    @Test
    void editsThatWereNotSavedCanBeRecovered() {
        w.edit("add one", p -> with(p, "one"));
        var later = new Workspace(Runnable::run, Runnable::run);
        later.open(folder);
        assertThat(later.findings()).anySatisfy(f -> assertThat(f.cause()).contains("not saved"));
        later.recover();
        assertThat(later.project()).isEqualTo(w.project());
        assertThat(later.undoName()).hasValue("recover unsaved edits");
        later.save();
        assertThat(folder.resolve(".journal")).doesNotExist();
    }

    @Test
    void aProjectThatCannotBeReadLeavesTheOpenOneAlone() throws IOException {
        Path bad = Files.createDirectory(folder.resolve("bad"));
        Files.writeString(bad.resolve("project.json"), "{");
        assertThatThrownBy(() -> w.open(bad)).isInstanceOf(FindingException.class);
        assertThat(w.project().name()).isEqualTo("Larkmere Lock");
        assertThat(w.folder()).hasValue(folder);
    }

    @Test
    void withoutAProjectThereIsNothingToSave() {
        var empty = new Workspace(Runnable::run, Runnable::run);
        assertThatThrownBy(empty::save).isInstanceOf(FindingException.class).hasMessageContaining("No project is open");
    }

    @Test
    void aChangeThatIsWorkedOutBesideTheWindowIsMadeUnlessTheProjectMovedOn() {
        List<Runnable> waiting = new ArrayList<>();
        var slow = new Workspace(waiting::add, Runnable::run);
        List<Finding> refused = new ArrayList<>();
        slow.editLater("late", p -> p.withVariables(List.of(new Variable("late", "1", ""))), refused::addAll);
        assertThat(slow.project().variables()).isEmpty();
        waiting.removeFirst().run();
        assertThat(slow.project().variables()).hasSize(1);
        assertThat(slow.undoName()).hasValue("late");
        slow.editLater("later", p -> p.withVariables(List.of()), refused::addAll);
        slow.edit("meanwhile", p -> p.withVariables(List.of(new Variable("other", "2", ""))));
        waiting.stream().toList().forEach(Runnable::run);
        assertThat(slow.project().variables()).singleElement().satisfies(v -> assertThat(v.name()).isEqualTo("other"));
        waiting.clear();
        slow.editLater("never", _ -> {
            throw FindingException.of("here", "It cannot be.", "Do something else.");
        }, refused::addAll);
        waiting.removeFirst().run();
        assertThat(refused).singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("It cannot be."));
    }

    @Test
    void workBesideTheWindowTellsHowItWent() {
        var w = new Workspace(Runnable::run, Runnable::run);
        List<String> calls = new ArrayList<>();
        w.inBackground(() -> calls.add("work"), () -> calls.add("done"), f -> calls.add("refused"));
        w.inBackground(() -> {
            throw FindingException.of("here", "No.", "Yes.");
        }, () -> calls.add("done"), f -> calls.add("refused"));
        assertThat(calls).containsExactly("work", "done", "refused");
    }

    /** Another program that opens the project, as far as this one can see. */
    private void change(String name) {
        ProjectWriter.write(with(ProjectReader.read(folder), name), folder);
    }

    @Test
    void changesOnDiskAreNoticedAndNotSavedOver() {
        w.compareWithDisk();
        assertThat(w.findings()).noneMatch(f -> f.cause().contains("Another program"));
        change("theirs");
        w.compareWithDisk();
        w.compareWithDisk();
        assertThat(w.findings()).filteredOn(f -> f.cause().contains("Another program")).singleElement()
                .satisfies(f -> assertThat(f.cure()).contains("Reload from disk"));
        w.edit("add mine", p -> with(p, "mine"));
        assertThatThrownBy(w::save).isInstanceOf(FindingException.class).hasMessageContaining("Another program changed");
        assertThat(ProjectReader.read(folder).variableTexts()).containsKey("theirs").doesNotContainKey("mine");
        w.saveOver();
        assertThat(ProjectReader.read(folder).variableTexts()).containsKey("mine").doesNotContainKey("theirs");
        assertThat(w.findings()).noneMatch(f -> f.cause().contains("Another program"));
        change("again");
        w.reload();
        assertThat(has("again")).isTrue();
        assertThat(w.isDirty()).isFalse();
        w.edit("add one", p -> with(p, "one"));
        w.save();
    }

    @Test
    void filesThatAreWrittenAnewWithTheSameProjectAreNoChange() throws IOException {
        Path file = folder.resolve("project.json");
        Files.setLastModifiedTime(file, java.nio.file.attribute.FileTime.fromMillis(1_000));
        w.compareWithDisk();
        assertThat(w.findings()).noneMatch(f -> f.cause().contains("Another program"));
        w.edit("add one", p -> with(p, "one"));
        w.save();
        assertThat(ProjectReader.read(folder).variableTexts()).containsKey("one");
    }

    @Test
    void aProjectThatAnotherProcessMayWriteIsRead() throws Exception {
        w.close();
        try (var other = new OtherProcess(folder)) {
            w.open(folder);
            assertThat(w.findings()).anySatisfy(f -> assertThat(f.cause()).contains("the other, process " + other.pid()));
            w.edit("add one", p -> with(p, "one"));
            assertThatThrownBy(w::save).isInstanceOf(FindingException.class).hasMessageContaining("the other, process")
                    .hasMessageContaining("nothing was saved");
            assertThat(folder.resolve(".journal")).as("the journal is the other's").doesNotExist();
        }
        w.save();
        assertThat(ProjectReader.read(folder).variableTexts()).containsKey("one");
    }

    @Test
    void aReviewOrAChangeThatFailsIsReportedAndNothingIsLost() {
        List<Finding> refused = new ArrayList<>();
        w.editLater("deep", p -> with(p, String.valueOf(depth(0))), refused::addAll);
        assertThat(refused).singleElement().satisfies(f -> assertThat(f.cause()).contains("nested too deep"));
        w.inBackground(() -> {
            throw new IllegalStateException("odd");
        }, () -> {}, refused::addAll);
        assertThat(refused).hasSize(2).last().satisfies(f -> assertThat(f.cause()).contains("odd"));
        assertThat(w.isDirty()).isFalse();
    }

    private static int depth(int n) {
        return n < 0 ? 0 : depth(n + 1) + 1;
    }

    @Test
    void whileAProjectIsCheckedItCannotBeRun() {
        List<Runnable> waiting = new ArrayList<>();
        var slow = new Workspace(waiting::add, Runnable::run);
        slow.open(folder);
        assertThat(slow.review().hasErrors()).isTrue();
        assertThat(slow.project().name()).isEqualTo("Larkmere Lock");
        waiting.forEach(Runnable::run);
        assertThat(slow.review().hasErrors()).isFalse();
    }
}
