package boldanvil.benchmarks;

import boldanvil.app.model.DrawingPainter;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.drawing.LiveDrawing;
import boldanvil.core.files.Folders;
import boldanvil.core.finding.FindingException;
import boldanvil.core.testing.Doors;
import boldanvil.core.testing.Doors.Door;
import boldanvil.core.testing.Mutator;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.logging.LogManager;

/**
 * Damaged inputs for every reader: how many were refused with a finding, whether one led to any other exception or to an overflow, how long
 * the slowest took, and whether anything outside the folder that was read has changed. Parameters: the number of inputs, and a seed.
 */
public final class FuzzBenchmark {
    private static final int WORKERS = 2;
    private static final long SLOW_NANOS = 2_000_000_000L;
    private final Map<String, int[]> refused = new TreeMap<>();
    private final Map<String, Long> slowest = new TreeMap<>();
    private final AtomicInteger failures = new AtomicInteger();
    private final AtomicInteger slow = new AtomicInteger();
    private final AtomicLong[] since = {new AtomicLong(), new AtomicLong()};
    private final String[] doing = new String[WORKERS];

    private FuzzBenchmark() {}

    public static void main(String[] args) throws IOException, InterruptedException {
        System.setProperty("java.awt.headless", "true");
        LogManager.getLogManager().reset();
        int inputs = args.length > 0 ? Integer.parseInt(args[0]) : 100_000;
        long seed = args.length > 1 ? Long.parseLong(args[1]) : 1;
        Path folder = Files.createTempDirectory("fuzz");
        try {
            new FuzzBenchmark().run(folder, inputs, seed);
        } finally {
            Folders.delete(folder);
        }
        System.exit(0);
    }

    private void run(Path folder, int inputs, long seed) throws IOException, InterruptedException {
        Path outside = Files.createDirectory(folder.resolve("outside"));
        Files.writeString(outside.resolve("kept.json"), "{\"kept\": true}");
        String before = listing(folder);
        List<Thread> workers = new ArrayList<>();
        for (int w = 0; w < WORKERS; w++) {
            int number = w;
            Path own = Files.createDirectory(folder.resolve("worker" + w));
            workers.add(Thread.ofPlatform().start(() -> work(number, own, inputs / WORKERS, seed * WORKERS + number)));
        }
        long[] reported = new long[WORKERS];
        while (workers.stream().anyMatch(Thread::isAlive)) {
            Thread.sleep(200);
            for (int w = 0; w < WORKERS; w++) {
                long from = since[w].get();
                if (from != 0 && from != reported[w] && System.nanoTime() - from > SLOW_NANOS) {
                    reported[w] = from;
                    System.out.println("SLOW: " + doing[w]);
                    for (var frame : workers.get(w).getStackTrace()) {
                        System.out.println("    " + frame);
                    }
                }
                if (from != 0 && System.nanoTime() - from > 20 * SLOW_NANOS) {
                    System.out.println("It hangs.");
                    System.exit(1);
                }
            }
        }
        refused.forEach((name, n) -> System.out.printf(Locale.ROOT, "%-10s %7d inputs, %7d refused, slowest %7.1f ms%n", name, n[0], n[1],
                slowest.get(name) / 1e6));
        for (int w = 0; w < WORKERS; w++) {
            Folders.delete(folder.resolve("worker" + w));
        }
        System.out.println(failures.get() + " failures, " + slow.get() + " longer than 2 s; outside " + (listing(folder).equals(before)
                ? "nothing changed" : "SOMETHING CHANGED: " + listing(folder)));
    }

    private static String listing(Path folder) throws IOException {
        try (var files = Files.walk(folder)) {
            var text = new StringBuilder();
            for (Path f : files.filter(f -> !folder.relativize(f).toString().startsWith("worker")).sorted().toList()) {
                text.append(f).append(Files.isDirectory(f) ? "" : Files.readString(f)).append('\n');
            }
            return text.toString();
        }
    }

    private void work(int worker, Path folder, int inputs, long seed) {
        try {
            var mutator = new Mutator(seed);
            List<Door> doors = Doors.all(folder, Path.of("demo"));
            int total = doors.stream().mapToInt(Door::weight).sum();
            for (Door d : doors) {
                int n = inputs * d.weight() / total;
                for (int i = 0; i < n; i++) {
                    one(worker, d, mutator.damaged(d.seeds()), folder);
                }
            }
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private void one(int worker, Door door, byte[] input, Path folder) {
        doing[worker] = door.name() + ": " + shown(input);
        long begin = System.nanoTime();
        since[worker].set(begin);
        boolean wasRefused = false;
        try {
            wasRefused = door.refuses(input, folder);
            if (door.name().equals("drawing") && !wasRefused) {
                paint(folder.resolve("a.svg"));
            }
        } catch (FindingException e) {
            wasRefused = true;
        } catch (Exception | StackOverflowError | OutOfMemoryError e) {
            fail(door, input, e);
        }
        since[worker].set(0);
        long took = System.nanoTime() - begin;
        slow.addAndGet(took > SLOW_NANOS ? 1 : 0);
        synchronized (this) {
            int[] n = refused.computeIfAbsent(door.name(), _ -> new int[2]);
            n[0]++;
            n[1] += wasRefused ? 1 : 0;
            slowest.merge(door.name(), took, Math::max);
        }
    }

    private void fail(Door door, byte[] input, Throwable e) {
        if (failures.incrementAndGet() <= 60) {
            StackTraceElement[] trace = e.getStackTrace();
            var where = new StringBuilder();
            for (int i = 0, shown = 0; i < trace.length && shown < 4; i++) {
                if (i == 0 || trace[i].getClassName().startsWith("boldanvil.core") || trace[i].getClassName().contains("jsvg")) {
                    where.append("\n    ").append(trace[i]);
                    shown++;
                }
            }
            System.out.println("FAILS: " + door.name() + ": " + String.valueOf(e).lines().findFirst()
                    .orElse("") + where + "\n    input " + shown(input));
        }
    }

    private static String shown(byte[] input) {
        String text = new String(input, 0, Math.min(input.length, 400), StandardCharsets.UTF_8).replaceAll("\\p{Cntrl}", ".");
        return text + (input.length > 400 ? "… (" + input.length + " bytes)" : "");
    }

    /** Paints what is left of a damaged drawing, too, as the window does. */
    private static void paint(Path drawing) {
        DrawingPainter.paint(LiveDrawing.read(drawing.getParent(), new Drawing("d", drawing.getFileName().toString(), List.of()))
                .at(_ -> 0.5), 300);
    }
}
