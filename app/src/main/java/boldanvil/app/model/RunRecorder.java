package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.runs.Mark;
import boldanvil.core.runs.Recording;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import java.nio.file.Path;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;

/** Writes a run while it runs, with the marks on its time axis. */
final class RunRecorder {
    private final Consumer<List<Finding>> report;
    private final List<Mark> marks = new CopyOnWriteArrayList<>();
    private final Set<Finding> reported = ConcurrentHashMap.newKeySet();
    private volatile Recording recording;
    private volatile List<ModeTaps.Mode> modes = List.of();
    private volatile double modesUntil;
    private volatile Path shelfFolder;

    /** @param report takes what cannot be written, and why */
    RunRecorder(Consumer<List<Finding>> report) {
        this.report = report;
    }

    /** Begins to write a run. */
    void begin(LiveRun fresh, Path shelfFolder) {
        this.shelfFolder = shelfFolder;
        marks.clear();
        reported.clear();
        modes = ModeTaps.of(fresh.review().project());
        modesUntil = 0;
        recording = null;
        if (fresh.store().columns().isEmpty()) {
            return;
        }
        try {
            recording = new RunShelf(shelfFolder).begin(note(fresh), fresh.store(), ProjectWriter.files(fresh.review().project()));
        } catch (FindingException e) {
            report.accept(e.findings());
        }
    }

    /** What is known of a run when it begins. */
    static RunNote note(LiveRun fresh) {
        Map<String, String> images = new LinkedHashMap<>();
        fresh.images().forEach((part, image) -> images.put(part, image.sha256()));
        Map<String, String> devices = new LinkedHashMap<>();
        fresh.review().system().parts().keySet().forEach(part -> {
            var place = fresh.rig().place(part);
            devices.put(part, place.device().isEmpty() ? place.mode().name().toLowerCase(Locale.ROOT) : place.device());
        });
        return RunNote.beginning(fresh.rig().name(), Instant.now().toString(), fresh.review().system().tickNanos() / 1e9, devices,
                images);
    }

    /** Completes the record of a run that has ended; one without samples is removed. */
    void finish(LiveRun ended, List<Finding> all) {
        Recording rec = recording;
        if (rec == null) {
            return;
        }
        observe(ended);
        try {
            var entry = rec.finish(ended.interventions(), all.stream().map(Finding::toString).toList());
            if (entry.note().seconds() <= 0 && ended.seconds() <= 0) {
                new RunShelf(shelfFolder).delete(entry);
            }
        } catch (FindingException e) {
            report.accept(e.findings());
        }
    }

    /**
     * Makes marks of the findings and changes of mode since the last time.
     *
     * @return whether there were any
     */
    synchronized boolean observe(LiveRun r) {
        int before = marks.size();
        if (!modes.isEmpty()) {
            double until = r.store().end();
            ModeTaps.changes(modes, r.store(), modesUntil).stream().filter(m -> m.seconds() <= until).forEach(this::mark);
            modesUntil = until;
        }
        for (Finding f : r.findings()) {
            if (reported.add(f)) {
                mark(new Mark(r.seconds(), f.isError() ? Mark.Kind.LIMIT : Mark.Kind.FAULT, f.cause()));
            }
        }
        return marks.size() > before;
    }

    void mark(Mark m) {
        marks.add(m);
        Recording rec = recording;
        if (rec != null) {
            rec.mark(m);
        }
    }

    /** What happened in the run, in the order in which it was noticed. */
    List<Mark> marks() {
        return List.copyOf(marks);
    }

    /** The run that is being recorded, or was last. */
    Optional<Recording> recording() {
        return Optional.ofNullable(recording);
    }
}
