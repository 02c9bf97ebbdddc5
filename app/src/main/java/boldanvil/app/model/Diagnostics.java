package boldanvil.app.model;

import boldanvil.core.build.Toolchain;
import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Finding;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import java.util.List;
import java.util.Locale;

/** What whoever reads a report of a failure has to know: versions, machine, tools, project, log. */
public final class Diagnostics {
    /** Name and version of the program. */
    public static final String VERSION = "Bold Anvil 0.1.0";

    private static final int LOG_CHARACTERS = 16_384;
    private static final List<String> TOOLS = List.of("gcc", "arm-none-eabi-gcc", "qemu-system-arm");

    private Diagnostics() {}

    /** The program and the machine it runs on. */
    public static String machine() {
        var runtime = Runtime.getRuntime();
        var text = new StringBuilder(VERSION).append('\n');
        line(text, "Java", System.getProperty("java.vendor") + " " + Runtime.version());
        line(text, "JavaFX", System.getProperty("javafx.runtime.version", "not loaded"));
        line(text, "System", System.getProperty("os.name") + " " + System.getProperty("os.version") + ", " + System.getProperty("os.arch"));
        line(text, "Processors", Integer.toString(runtime.availableProcessors()));
        line(text, "Memory", String.format(Locale.ROOT, "%d of %d MiB", (runtime.totalMemory() - runtime.freeMemory()) >> 20,
                runtime.maxMemory() >> 20));
        for (String tool : TOOLS) {
            line(text, tool, Toolchain.find(tool).map(Object::toString).orElse("not found"));
        }
        line(text, "State", UserFolder.find().map(Object::toString).orElse("no folder"));
        return text.toString();
    }

    /** A project in numbers, with its findings. */
    public static String project(Project project, List<Finding> findings) {
        var text = new StringBuilder();
        line(text, "Project", project.name() + ", " + Figures.count(project.parts().size(), "part") + ", "
                + Figures.count(project.parts().stream().flatMap(p -> p.sheets().stream()).mapToInt(s -> s.blocks().size()).sum(),
                "block"));
        findings.forEach(f -> text.append(f.severity().label()).append(": ").append(f).append('\n'));
        return text.toString();
    }

    /** The end of the log. */
    public static String log() {
        String tail = Log.tail(LOG_CHARACTERS);
        return tail.isEmpty() ? "The log has no entries.\n" : tail;
    }

    private static void line(StringBuilder to, String name, String value) {
        to.append(String.format(Locale.ROOT, "%-18s %s%n", name, value));
    }
}
