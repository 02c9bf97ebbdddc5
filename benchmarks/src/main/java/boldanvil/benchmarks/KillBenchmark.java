package boldanvil.benchmarks;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.files.Folders;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.samples.Series;
import boldanvil.core.testing.Killed;
import boldanvil.core.user.TemporaryFiles;
import boldanvil.core.user.UserFolder;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;

/**
 * Kills programs at random moments while they save, record and deploy, and looks for what was committed and lost, and for what they left
 * behind. Parameter: how often each.
 */
public final class KillBenchmark {
    /** The longest time between a sample and the file, in rows: what comes in 0.5 s. */
    private static final int ROWS_ON_THEIR_WAY = 5_000;

    private final Random random = new Random(1);
    private final Path folder;
    private final int times;

    private KillBenchmark(Path folder, int times) {
        this.folder = folder;
        this.times = times;
    }

    public static void main(String[] args) throws IOException, InterruptedException {
        Path folder = Files.createTempDirectory("kill");
        System.setProperty(DeviceRegistry.FOLDER, folder.resolve("devices").toString());
        System.setProperty(UserFolder.PROPERTY, folder.resolve("state").toString());
        System.setProperty("java.io.tmpdir", Files.createDirectory(folder.resolve("tmp")).toString());
        try {
            var b = new KillBenchmark(folder, args.length > 0 ? Integer.parseInt(args[0]) : 100);
            b.save();
            b.record();
            b.deploy();
        } finally {
            Folders.delete(folder);
        }
        System.exit(0);
    }

    private static BufferedReader output(Process p) {
        return new BufferedReader(new InputStreamReader(p.getInputStream(), StandardCharsets.UTF_8));
    }

    /** Waits for a line, then a while, and kills; the last line that was printed. */
    private int kill(Process p, int lines, int most) throws IOException, InterruptedException {
        var out = output(p);
        String last = "0";
        for (int i = 0; i < lines; i++) {
            last = out.readLine();
        }
        Thread.sleep(random.nextInt(most));
        while (out.ready()) {
            last = out.readLine();
        }
        p.destroyForcibly().onExit().join();
        return Integer.parseInt(last);
    }

    private void save() throws IOException, InterruptedException {
        Path project = folder.resolve("project");
        int lost = 0;
        int mixed = 0;
        int left = 0;
        for (int i = 0; i < times; i++) {
            int reported = kill(Killed.start(Killed.Saver.class, project.toString(), Integer.toString(1 + i * 10_000)), 2, 60);
            var read = ProjectReader.read(project);
            int number = Integer.parseInt(read.variableTexts().get("n"));
            mixed += read.equals(Killed.project(number)) ? 0 : 1;
            lost += number < reported ? 1 : 0;
            left += Files.exists(project.resolve(".saving")) ? 1 : 0;
        }
        System.out.printf(Locale.ROOT,
                "save:   killed %d times: %d lost, %d with old and new files mixed, %d with something left behind%n", times, lost, mixed,
                left);
    }

    private void record() throws IOException, InterruptedException {
        int lost = 0;
        int wrong = 0;
        for (int i = 0; i < times; i++) {
            Path file = folder.resolve("run" + i + (i % 2 == 0 ? ".csv" : ".h5"));
            int reported = kill(Killed.start(Killed.Recorder.class, file.toString()), 40 + random.nextInt(40), 200);
            Series speed = Killed.recorded(file).find("drive.speed").orElseThrow();
            lost += speed.size() < reported - ROWS_ON_THEIR_WAY ? 1 : 0;
            for (int k = 0; k < speed.size(); k++) {
                if (Math.abs(speed.values()[k] - Killed.speed(k)) > 1e-6) {
                    wrong++;
                    break;
                }
            }
        }
        System.out.printf(Locale.ROOT, "record: killed %d times: %d lost rows older than 0.5 s, %d with wrong values or unreadable%n",
                times, lost, wrong);
    }

    /** Builds, downloads and starts the demo's controller on its stand-in, in a project of its own. */
    static final class Deployment {
        private Deployment() {}

        public static void main(String[] args) throws InterruptedException {
            var project = ProjectReader.read(Path.of("demo/larkmere-lock"));
            System.out.println(1);
            try (var run = RigStarter.prepare(project, "swage", new RunOptions(Long.MAX_VALUE, 1, List.of(), Path.of(args[0])),
                    Progress.NONE)) {
                run.start();
                System.out.println(2);
                Thread.sleep(600_000);
            }
        }
    }

    private void deploy() throws IOException, InterruptedException {
        Path build = folder.resolve("build");
        int alive = 0;
        List<String> left = new ArrayList<>();
        for (int i = 0; i < times; i++) {
            // Every tenth build starts from nothing, so that the compiler is killed, too.
            if (i % 10 == 0) {
                Folders.delete(build);
            }
            var p = Killed.start(Deployment.class, build.toString());
            output(p).readLine();
            Thread.sleep(random.nextInt(2_500));
            var children = p.descendants().toList();
            p.destroyForcibly().onExit().join();
            long end = System.nanoTime() + 15_000_000_000L;
            while (children.stream().anyMatch(ProcessHandle::isAlive) && System.nanoTime() < end) {
                Thread.sleep(20);
            }
            alive += (int) children.stream().filter(ProcessHandle::isAlive).count();
            DeviceRegistry.entries();
            TemporaryFiles.sweep();
            left.addAll(names(folder.resolve("tmp")));
            left.addAll(names(folder.resolve("devices")));
        }
        var project = ProjectReader.read(Path.of("demo/larkmere-lock"));
        boolean works;
        try (var run = RigStarter.prepare(project, "swage", new RunOptions(100_000_000, Double.POSITIVE_INFINITY, List.of(), build),
                Progress.NONE)) {
            run.start();
            run.awaitEnd();
            works = run.findings().isEmpty();
        }
        System.out.printf(Locale.ROOT, "deploy: killed %d times: %d processes go on, %d files left behind %s; the next deployment %s%n",
                times, alive, left.size(), left.stream().limit(5).toList(),
                works ? "works" : "FAILS");
    }

    private static List<String> names(Path folder) throws IOException {
        if (!Files.isDirectory(folder)) {
            return List.of();
        }
        try (var files = Files.list(folder)) {
            return files.map(f -> f.getFileName().toString()).filter(n -> !n.startsWith("hsperfdata")).toList();
        }
    }
}
