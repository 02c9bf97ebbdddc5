package boldanvil.core.user;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Optional;
import java.util.logging.FileHandler;
import java.util.logging.Formatter;
import java.util.logging.Handler;
import java.util.logging.Level;
import java.util.logging.LogManager;
import java.util.logging.LogRecord;
import org.slf4j.LoggerFactory;

/**
 * The program's log: what went wrong without a finding, and what libraries report (SLF4J on {@code java.util.logging}). It lies in the
 * folder {@code logs} of the {@link UserFolder}, in four files of 512 KiB that are reused in turn. Nothing is opened before the first
 * entry.
 */
public final class Log {
    private static final int FILE_BYTES = 512 * 1024;
    private static final int FILES = 4;
    private static final String ENDING = ".log";

    static {
        var root = LogManager.getLogManager().getLogger("");
        for (Handler console : root.getHandlers()) {
            root.removeHandler(console);
        }
        root.addHandler(new Later());
    }

    private Log() {}

    /** Has libraries write into the log, too, from now on. */
    public static void begin() {
        // Whoever calls this has loaded the class. The first logger is made here, since two at once disturb each other.
        LoggerFactory.getLogger(Log.class);
    }

    /**
     * Notes an exception that is of no consequence for the user; with its stack trace where it can be a mistake in the program.
     *
     * @param consequence what happens instead
     */
    public static void ignored(Class<?> where, Throwable e, String consequence) {
        var log = LoggerFactory.getLogger(where);
        if (e instanceof RuntimeException) {
            log.info(consequence, e);
        } else {
            log.info("{} {}", consequence, e.toString());
        }
    }

    /** Notes a failure of the program itself. */
    public static void failed(Class<?> where, Throwable e) {
        LoggerFactory.getLogger(where).error("This failed.", e);
    }

    /** Where the files lie; empty where there is no folder for them. */
    public static Optional<Path> folder() {
        return UserFolder.find().map(f -> f.resolve("logs"));
    }

    /** The end of the newest log file, of at most this many characters; empty where nothing was logged. */
    public static String tail(int characters) {
        var folder = folder();
        if (folder.isEmpty() || !Files.isDirectory(folder.get())) {
            return "";
        }
        try (var files = Files.list(folder.get())) {
            List<Path> logs = files.filter(f -> f.getFileName().toString().endsWith(ENDING) && Files.isRegularFile(f)).toList();
            Path newest = null;
            for (Path f : logs) {
                if (newest == null || Files.getLastModifiedTime(f).compareTo(Files.getLastModifiedTime(newest)) > 0) {
                    newest = f;
                }
            }
            String text = newest == null ? "" : Files.readString(newest);
            return text.substring(Math.max(0, text.length() - characters));
        } catch (IOException e) {
            return "The log cannot be read: " + e.getMessage() + ".";
        }
    }

    /** Opens the file when there is something to write. */
    private static final class Later extends Handler {
        private Handler file;
        private boolean impossible;

        @Override
        public synchronized void publish(LogRecord entry) {
            if (file == null && !impossible) {
                open();
            }
            if (file != null && entry.getLevel().intValue() >= Level.INFO.intValue()) {
                file.publish(entry);
            }
        }

        private void open() {
            var folder = folder();
            try {
                if (folder.isPresent()) {
                    Files.createDirectories(folder.get());
                    file = new FileHandler(folder.get().resolve("bold-anvil.%u.%g" + ENDING).toString(), FILE_BYTES, FILES, true);
                    file.setEncoding(StandardCharsets.UTF_8.name());
                    file.setFormatter(new Lines());
                }
            } catch (IOException e) {
                // There is no place left to write this to.
                file = null;
            }
            impossible = file == null;
        }

        @Override
        public synchronized void flush() {
            if (file != null) {
                file.flush();
            }
        }

        @Override
        public synchronized void close() {
            if (file != null) {
                file.close();
            }
        }
    }

    /** Instant, level, class and text on one line; then the exception. */
    private static final class Lines extends Formatter {
        private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss.SSS")
                .withZone(ZoneId.systemDefault());

        @Override
        public String format(LogRecord entry) {
            var text = new StringWriter();
            text.append(TIME.format(entry.getInstant())).append(' ').append(entry.getLevel().getName()).append(' ')
                    .append(entry.getLoggerName()).append(": ")
                    .append(formatMessage(entry)).append('\n');
            if (entry.getThrown() != null) {
                entry.getThrown().printStackTrace(new PrintWriter(text, true));
            }
            return text.toString();
        }
    }
}
