package boldanvil.core.testing;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.storage.RunFile;
import boldanvil.core.transfer.FileRecording;
import boldanvil.core.transfer.RunCsv;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;

/** Programs that work until they are killed. Each prints the number of what it has done. */
public final class Killed {
    private static final double RPM = Math.PI / 30;

    private Killed() {}

    /** Starts one in a process of its own. */
    public static Process start(Class<?> program, String... arguments) throws IOException {
        List<String> command = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC",
                "--enable-native-access=ALL-UNNAMED"));
        for (String own : List.of("boldanvil.devices", "boldanvil.state", "java.io.tmpdir")) {
            if (System.getProperty(own) != null) {
                command.add("-D" + own + "=" + System.getProperty(own));
            }
        }
        command.addAll(List.of("-cp", System.getProperty("java.class.path"), program.getName()));
        command.addAll(List.of(arguments));
        return new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
    }

    /** A project of thirty parts with one number in all of them. */
    public static Project project(int number) {
        var parts = IntStream.range(0, 30).mapToObj(k -> new PartBuilder("p" + k).block("c", "constant", "value=" + number).part())
                .toList();
        return Project.empty("saved").withParts(parts).withVariables(List.of(new Variable("n", Integer.toString(number), "")));
    }

    /** Saves a project into a folder again and again, each time with another number. */
    public static final class Saver {
        private Saver() {}

        public static void main(String[] args) {
            int first = Integer.parseInt(args[1]);
            for (int i = first; ; i++) {
                ProjectWriter.write(project(i), Path.of(args[0]));
                System.out.println(i);
            }
        }
    }

    /** A store with a fast track and one that is ten times slower. */
    public static SampleStore store() {
        return new SampleStore(List.of(new Column("drive.speed", "rpm"), new Column("slow.level", "m")),
                List.of(new int[] {0}, new int[] {1}), Integer.MAX_VALUE);
    }

    /** The value of the fast track in a row. */
    public static double speed(int row) {
        return 1_500 * RPM + row;
    }

    /** Adds some rows. */
    public static void fill(SampleStore s, int from, int to) {
        for (int i = from; i < to; i++) {
            s.add(0, i * 1e-3, speed(i));
            if (i % 10 == 0) {
                s.add(1, i * 1e-3, -i);
            }
        }
    }

    /** What was recorded into a file. */
    public static RunData recorded(Path file) {
        if (file.toString().endsWith(".csv")) {
            return RunCsv.read(file);
        }
        try (var samples = RunFile.open(file)) {
            return samples.snapshot();
        }
    }

    /** Records into a file. */
    public static final class Recorder {
        private Recorder() {}

        public static void main(String[] args) throws InterruptedException {
            var s = store();
            try (var _ = new FileRecording(s, Path.of(args[0]))) {
                for (int i = 0; ; i += 100) {
                    fill(s, i, i + 100);
                    Thread.sleep(10);
                    System.out.println(i + 100);
                }
            }
        }
    }
}
