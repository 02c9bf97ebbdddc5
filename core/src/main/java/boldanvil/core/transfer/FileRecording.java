package boldanvil.core.transfer;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.storage.RunFile;
import boldanvil.core.storage.RunWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Writes a run into one file while it runs, so that what was recorded is there when the program is killed. CSV and HDF5 grow; every
 * other format needs the whole run, so an HDF5 file grows beside it until then.
 */
public final class FileRecording implements AutoCloseable {
    private static final long TAKE_MILLIS = 200;

    private final SampleStore store;
    private final Path file;
    private final Path growing;
    private final RunWriter writer;
    private final CsvStream csv;
    private final Thread thread;
    private volatile boolean stopping;
    private volatile Finding failure;

    /**
     * Begins; what comes into the store from now on is written.
     *
     * @throws FindingException when the ending of the file's name is not known, or it cannot be written
     */
    public FileRecording(SampleStore store, Path file) {
        var format = RunExport.require(file);
        this.store = store;
        this.file = file;
        boolean text = format == RunExport.CSV;
        growing = text || format == RunExport.HDF5 ? file : file.resolveSibling(file.getFileName() + ".part.h5");
        try {
            csv = text ? new CsvStream(store, growing) : null;
            writer = text ? null : new RunWriter(growing, store.columns(), store.tracks(), store.periods(), Long.MAX_VALUE);
        } catch (IOException e) {
            throw unwritable(e);
        }
        thread = Thread.ofPlatform().daemon().name("record to file").start(this::write);
    }

    private FindingException unwritable(IOException e) {
        return FindingException.of(file.toString(), "The file cannot be written: " + e.getMessage() + ".",
                "Choose a folder that exists and can be written to.");
    }

    private void write() {
        try {
            while (!stopping) {
                take();
                Thread.sleep(TAKE_MILLIS);
            }
            take();
        } catch (IOException e) {
            failure = Finding.error(file.toString(), "Recording stopped: " + e.getMessage() + ". What was recorded so far is kept.",
                    "Free space on the disk, then run again.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void take() throws IOException {
        for (int t = 0; t < store.tracks().size(); t++) {
            List<SampleStore.Piece> pieces = store.take(t);
            for (var p : pieces) {
                if (csv != null) {
                    csv.add(t, p);
                } else {
                    writer.append(t, p.times(), p.values(), p.first(), p.count());
                }
            }
        }
        if (csv != null) {
            csv.flush();
        } else {
            writer.commit();
        }
    }

    /** Why recording ended before the run did; empty as long as all is well. */
    public Optional<Finding> failure() {
        return Optional.ofNullable(failure);
    }

    /** Ends the file when all samples are in the store. */
    @Override
    public void close() {
        stopping = true;
        try {
            thread.join();
            if (csv != null) {
                csv.close();
            } else if (failure == null) {
                writer.close();
            } else {
                writer.abandon();
            }
            if (!growing.equals(file)) {
                try (Samples all = RunFile.open(growing)) {
                    RunExport.write(all, file);
                }
                Files.deleteIfExists(growing);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (IOException e) {
            throw unwritable(e);
        }
    }
}
