package boldanvil.core.runs;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.storage.RunFile;
import boldanvil.core.storage.RunWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Optional;
import tools.jackson.databind.SerializationFeature;

/**
 * A run that is being written while it runs. A thread of its own takes what is new in the store several times a second and makes
 * it safe twice a second, so that a crash costs less than a second. When the disk is full, or nearly, it ends with a finding and
 * what is written stays.
 */
public final class Recording {
    private static final long TAKE_MILLIS = 100;
    private static final int TAKES_PER_COMMIT = 5;
    /** Left free on the disk, for everything else that has to be written. */
    private static final long RESERVE_BYTES = 32L << 20;

    private final RunShelf.Entry entry;
    private final SampleStore store;
    private final RunWriter writer;
    private final Path marks;
    private final Thread thread;
    private volatile boolean stopping;
    private volatile Finding failure;

    Recording(RunShelf.Entry entry, SampleStore store, long limit) throws IOException {
        this.entry = entry;
        this.store = store;
        marks = entry.folder().resolve("marks.jsonl");
        writer = new RunWriter(entry.folder().resolve("samples.h5"), store.columns(), store.tracks(), store.periods(), limit);
        store.keepIn(writer.samples());
        thread = Thread.ofPlatform().daemon().name("recording").start(this::write);
    }

    private void write() {
        try {
            for (int n = 1; !stopping; n++) {
                Thread.sleep(TAKE_MILLIS);
                take();
                if (n % TAKES_PER_COMMIT == 0) {
                    if (Files.getFileStore(entry.folder()).getUsableSpace() < RESERVE_BYTES) {
                        throw new IOException("the disk is nearly full");
                    }
                    writer.commit();
                }
            }
            take();
            writer.commit();
        } catch (IOException e) {
            failure = Finding.error(entry.folder().toString(), "Recording stopped: " + e.getMessage()
                    + ". What was recorded so far is kept.",
                    "Free space on the disk, then start the rig again.");
            store.stopKeeping();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void take() throws IOException {
        for (int t = 0; t < store.tracks().size(); t++) {
            for (var p : store.take(t)) {
                writer.append(t, p.times(), p.values(), p.first(), p.count());
            }
        }
    }

    /** The run as it is on the shelf. */
    public RunShelf.Entry entry() {
        return entry;
    }

    /** Why recording ended before the run did; empty as long as all is well. */
    public Optional<Finding> failure() {
        return Optional.ofNullable(failure);
    }

    /** Takes note of something that happened. */
    public synchronized void mark(Mark m) {
        try {
            Files.writeString(marks, RunShelf.MAPPER.writer().without(SerializationFeature.INDENT_OUTPUT).writeValueAsString(m) + "\n",
                    StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        } catch (IOException e) {
            failure = failure != null ? failure : Finding.warning(marks.toString(), "A marker was not written: " + e.getMessage() + ".",
                    "Free space on the disk.");
        }
    }

    /**
     * Ends the run when all of its samples are in the store.
     *
     * @param interventions what took effect on tunables, in order
     * @param findings what went wrong in the meantime, as text
     * @throws FindingException when its end cannot be written; what is written so far stays
     */
    public RunShelf.Entry finish(List<Intervention> interventions, List<String> findings) {
        stopping = true;
        try {
            thread.join();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        try {
            double end = store.end();
            var note = entry.note().ended(end, interventions.stream().map(Intervention::toString).toList(), findings)
                    .repeatable(interventions);
            store.stopKeeping();
            if (failure == null) {
                writer.close();
            } else {
                writer.abandon();
                try (var written = RunFile.open(entry.folder().resolve("samples.h5"))) {
                    note = note.lasting(written.end());
                }
            }
            store.keptIn(RunFile.open(entry.folder().resolve("samples.h5")));
            RunShelf.write(entry.folder(), note);
            return new RunShelf.Entry(entry.id(), entry.folder(), note);
        } catch (IOException e) {
            throw FindingException.of(entry.folder().toString(), "The end of the run cannot be written: " + e.getMessage()
                    + ". What was recorded is kept.",
                    "Free space on the disk.");
        }
    }
}
