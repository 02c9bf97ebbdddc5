package boldanvil.core.export;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.List;
import java.util.ServiceLoader;
import java.util.stream.Collectors;

/** The exporters there are. A new one is a class and a line here; a jar of its own names it in {@code META-INF/services}. */
public final class Exporters {
    private static final List<Exporter> ALL = new ArrayList<>(List.of(new CSources(), new StText(), new PlcOpen()));

    static {
        ServiceLoader.load(Exporter.class, Exporters.class.getClassLoader()).forEach(ALL::add);
    }

    private Exporters() {}

    public static List<Exporter> all() {
        return List.copyOf(ALL);
    }

    /** An exporter by its id, or a finding with those there are. */
    public static Exporter require(String id) {
        return ALL.stream().filter(e -> e.id().equals(id)).findFirst().orElseThrow(
                () -> FindingException.of("--format", "There is no format '" + id + "'.",
                "Formats are: " + ALL.stream().map(Exporter::id).collect(Collectors.joining(", ")) + "."));
    }
}
