package boldanvil.core.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import boldanvil.core.samples.Column;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.WireFault;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A run on its way to the shelf, and what can go wrong in the meantime. */
class RecordingTest {
    @TempDir
    Path folder;

    private final SampleStore store = new SampleStore(List.of(new Column("p.x", "V"), new Column("p.y", "")), List.of(new int[] {0, 1}),
            new double[] {1e-3}, 1_000_000);
    private int rows;

    private void rows(int n) {
        for (int i = 0; i < n; i++) {
            double v = rows;
            store.add(0, rows++ * 1e-3, (to, at) -> {
                to[at] = v;
                to[at + 1] = -v;
            });
        }
    }

    private static RunNote note(String started) {
        return RunNote.beginning("swage", started, 1e-3, Map.of("controller", "Swage 32"), Map.of());
    }

    private RunShelf shelf() {
        return new RunShelf(folder.resolve("runs"));
    }

    @Test
    void whatComesWhileItGoesOnIsThereAtTheEnd() {
        var recording = shelf().begin(note("2026-05-04T10:20:30Z"), store, Map.of("project.json", "{}"));
        rows(5_000);
        recording.mark(new Mark(2, Mark.Kind.NOTE, "second"));
        recording.mark(new Mark(1, Mark.Kind.CHANGE, "first"));
        rows(1_234);
        var entry = recording.finish(List.of(Intervention.set(new Change("p.k", 2, 1_000_000_000))), List.of());
        assertThat(recording.failure()).isEmpty();
        var listed = shelf().list().getFirst();
        assertThat(listed).isEqualTo(entry);
        assertThat(listed.note().whole()).isTrue();
        assertThat(listed.note().seconds()).isEqualTo(6_233 * 1e-3);
        assertThat(listed.marks()).extracting(Mark::text).containsExactly("first", "second");
        try (var samples = listed.open()) {
            assertThat(samples.series(1).values()).hasSize(6_234).endsWith(-6_233);
        }
    }

    /** What another process would find if this one were gone. */
    @Test
    void whatWasRecordedIsThereWithoutAnEnd() throws Exception {
        var recording = shelf().begin(note("2026-05-04T10:20:30Z"), store, Map.of());
        rows(3_000);
        Path other = Files.createDirectories(folder.resolve("other/20260504"));
        Files.copy(recording.entry().folder().resolve("run.json"), other.resolve("run.json"));
        await().atMost(Duration.ofSeconds(20)).until(() -> {
            Files.copy(recording.entry().folder().resolve("samples.h5"), other.resolve("samples.h5"),
                    java.nio.file.StandardCopyOption.REPLACE_EXISTING);
            return new RunShelf(folder.resolve("other")).list().stream().anyMatch(e -> e.note().seconds() >= 2.999 - 1e-9);
        });
        rows(500);
        Files.writeString(other.resolve("marks.jsonl"), "{\"seconds\":1.0,\"kind\":\"NOTE\",\"text\":\"kept\"}\n{\"seconds\":2.0,\"ki");
        var found = new RunShelf(folder.resolve("other")).list().getFirst();
        assertThat(found.note().whole()).isFalse();
        assertThat(found.note().seconds()).isGreaterThanOrEqualTo(2.999 - 1e-9);
        assertThat(found.marks()).extracting(Mark::text).containsExactly("kept");
        recording.finish(List.of(), List.of());
    }

    @Test
    void aFullDiskEndsTheRecordingAndKeepsWhatItHas() {
        var recording = shelf().begin(note("2026-05-04T10:20:30Z"), store, Map.of(), 600_000);
        await().atMost(Duration.ofSeconds(20)).pollInterval(Duration.ofMillis(20)).until(() -> {
            rows(300);
            return recording.failure().isPresent();
        });
        assertThat(recording.failure().orElseThrow().cause()).contains("Recording stopped").contains("600000 bytes").contains("kept");
        // The run itself continues.
        rows(100);
        var entry = recording.finish(List.of(), List.of());
        assertThat(entry.note().seconds()).isPositive().isLessThan(rows * 1e-3);
        try (var samples = entry.open()) {
            double[] v = samples.series(0).values();
            assertThat(v.length).isGreaterThan(1_000);
            for (int i = 0; i < v.length; i++) {
                assertThat(v[i]).isEqualTo(i);
            }
        }
    }

    /** A file system that is really full. Only root may mount it: run it with {@code -Dgroups=root -DexcludedGroups=}. */
    @Test
    @Tag("root")
    void aSmallDiskThatFillsUpIsTold() throws Exception {
        Path small = Files.createDirectories(folder.resolve("small"));
        assertThat(new ProcessBuilder("mount", "-t", "tmpfs", "-o", "size=40m", "none", small.toString()).start().waitFor()).isZero();
        try {
            var recording = new RunShelf(small.resolve("runs")).begin(note("2026-05-04T10:20:30Z"), store, Map.of());
            Files.write(small.resolve("filler"), new byte[38 << 20]);
            await().atMost(Duration.ofSeconds(20)).pollInterval(Duration.ofMillis(20)).until(() -> {
                rows(2_000);
                return recording.failure().isPresent();
            });
            assertThat(recording.failure().orElseThrow().cause()).contains("Recording stopped");
        } finally {
            new ProcessBuilder("umount", "-l", small.toString()).start().waitFor();
        }
    }

    @Test
    void namesRemarksAndStarsAreKept() {
        var shelf = shelf();
        var entry = shelf.save(note("2026-05-04T10:20:30Z"), SampleStore.of(new RunData(List.of())), Map.of());
        shelf.note(entry, entry.note().named("Tuned on the bench").remarked("gain 9").starred(true));
        var note = shelf.list().getFirst().note();
        assertThat(note.title()).isEqualTo("Tuned on the bench");
        assertThat(note.starred()).isTrue();
        assertThat(note.matches("bench SWAGE gain")).isTrue();
        assertThat(note.matches("bench clinker")).isFalse();
        assertThat(note.matches("")).isTrue();
        assertThat(entry.note().title()).isEqualTo("swage");
    }

    @Test
    void aDeletedRunComesBack() {
        var shelf = shelf();
        rows(10);
        var entry = shelf.save(note("2026-05-04T10:20:30Z"), store, Map.of());
        shelf.delete(entry);
        assertThat(shelf.list()).isEmpty();
        assertThat(shelf.restore(entry.id()).orElseThrow().id()).isEqualTo(entry.id());
        assertThat(shelf.list()).hasSize(1);
        assertThat(shelf.restore("nothing")).isEmpty();
        assertThat(shelf.restore("../" + entry.id())).isEmpty();
    }

    @Test
    void onlyTheLastDeletedRunsAreKept() throws IOException {
        var shelf = shelf();
        List<RunShelf.Entry> all = new ArrayList<>();
        for (int i = 10; i < 33; i++) {
            all.add(shelf.save(note("2026-05-04T10:20:" + i + "Z"), SampleStore.of(new RunData(List.of())), Map.of()));
        }
        all.forEach(shelf::delete);
        try (var kept = Files.list(folder.resolve("runs/.deleted"))) {
            assertThat(kept.count()).isEqualTo(20);
        }
    }

    @Test
    void aRunThatCannotBeReadIsToldAndPassedOver() throws IOException {
        var shelf = shelf();
        shelf.save(note("2026-05-04T10:20:30Z"), SampleStore.of(new RunData(List.of())), Map.of());
        Path bad = Files.createDirectories(folder.resolve("runs/20270101-bad"));
        Files.writeString(bad.resolve("run.json"), "{\"rig\": [");
        Path torn = Files.createDirectories(folder.resolve("runs/20270102-torn"));
        Files.writeString(torn.resolve("run.json"), "{\"rig\": \"desk\", \"started\": \"x\"}");
        Files.write(torn.resolve("samples.h5"), new byte[300]);
        List<boldanvil.core.finding.Finding> problems = new ArrayList<>();
        assertThat(shelf.list(problems)).hasSize(1);
        assertThat(problems).hasSize(2).allMatch(f -> f.cause().startsWith("The run cannot be read"));
    }

    @Test
    void runsOfOlderVersionsAreStillRead() throws IOException {
        Path old = Files.createDirectories(folder.resolve("runs/20250101-101010-000-desk"));
        Files.writeString(old.resolve("run.json"),
                "{\"format\": 1, \"rig\": \"desk\", \"started\": \"2025-01-01T10:10:10Z\", \"seconds\": 2.5, \"images\": {}, \"changes\": "
                + "[\"a = 1\"]}");
        Files.writeString(old.resolve("samples.csv"), "time [s],p.x [V]\n0,1\n2.5,3\n");
        var entry = shelf().list().getFirst();
        assertThat(entry.note().whole()).isTrue();
        assertThat(entry.note().seconds()).isEqualTo(2.5);
        assertThat(entry.note().changes()).containsExactly("a = 1");
        assertThat(entry.marks()).isEmpty();
        try (var samples = entry.open()) {
            assertThat(samples.series(0).values()).containsExactly(1, 3);
        }
    }

    @Test
    void marksThatAreNoneArePassedOver() throws IOException {
        var shelf = shelf();
        var entry = shelf.save(note("2026-05-04T10:20:30Z"), store, Map.of());
        Files.writeString(entry.folder().resolve("marks.jsonl"), "{\"seconds\":2,\"kind\":\"NOTE\",\"text\":"
                + "\"b\"}\nnonsense\n{\"seconds\":1,\"kind\":\"MODE\",\"text\":\"a\"}\n{\"seconds\":3}\n[1]\n");
        assertThat(entry.marks()).containsExactly(new Mark(1, Mark.Kind.MODE, "a"), new Mark(2, Mark.Kind.NOTE, "b"));
    }

    @Test
    void whatTookEffectIsKeptWithItsStimuli() {
        var recording = shelf().begin(note("2026-05-04T10:20:30Z"), store, Map.of());
        rows(10);
        var all = List.of(Intervention.set(new Change("p.k", 2, 1_000_000)),
                new Intervention(Intervention.Kind.DRIVE, "p.t", 0, Stimulus.playback(new double[] {0, 0.5}, new double[] {1, -1}, true),
                        2_000_000, null),
                new Intervention(Intervention.Kind.RELEASE, "p.t", 0, null, 5_000_000, null),
                new Intervention(Intervention.Kind.FAULT, "p.y", 0, null, 6_000_000, WireFault.late(0.1)));
        recording.finish(all, List.of());
        var read = shelf().list().getFirst().note();
        assertThat(read.interventions()).usingRecursiveComparison().isEqualTo(all);
        assertThat(read.changes()).containsExactly("p.k = 2.0 at 0.001 s", "p.t driven by a playback at 0.002 s",
                "p.t released at 0.005 s", "p.y with the fault late at 0.006 s");
    }

    @Test
    void changesOfOlderVersionsAreReadFromTheirTexts() {
        var note = new RunNote("desk", "2025-01-01T10:10:10Z", 1, 0, Map.of(), Map.of(),
                List.of("p.k = -2.5E-3 at 0.7 s", "something else"),
                List.of(), "", "", false, true, null);
        assertThat(note.interventions()).containsExactly(Intervention.set(new Change("p.k", -0.0025, 700_000_000)));
    }
}
