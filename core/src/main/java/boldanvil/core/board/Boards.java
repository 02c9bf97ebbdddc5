package boldanvil.core.board;

import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;

/** The boards a project can use: those that ship with the product, and those whose files it brings along. */
public final class Boards {
    private static final Map<Map<String, String>, Boards> KNOWN = new ConcurrentHashMap<>();
    private static final Boards SHIPPED = new Boards(List.of("swage32", "clinker16", "generic-m4f", "tongs-plc-24", "hearth-rt8"));

    private final Map<String, Board> boards = new LinkedHashMap<>();
    private final List<Finding> findings = new ArrayList<>();

    private Boards(List<String> shipped) {
        for (String name : shipped) {
            try (InputStream in = Boards.class.getResourceAsStream(name + ".json")) {
                boards.put(name, BoardReader.readOwn(new String(in.readAllBytes(), StandardCharsets.UTF_8)));
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    private Boards(Map<String, String> own) {
        boards.putAll(SHIPPED.boards);
        new TreeMap<>(own).forEach((file, text) -> {
            String place = "boards/" + file + ".json";
            try {
                Board b = BoardReader.read(text, place);
                if (!b.name().equals(file)) {
                    findings.add(Finding.error(place, "The file describes the board '" + b.name() + "'.",
                            "Name the file after its board."));
                } else if (boards.putIfAbsent(file, b) != null) {
                    findings.add(Finding.error(place, "A board of the product already has the name '" + file + "'.", "Rename this board."));
                }
            } catch (FindingException e) {
                findings.addAll(e.findings());
            }
        });
    }

    /** The boards that ship with the product. */
    public static Boards shipped() {
        return SHIPPED;
    }

    /** The boards of a project. */
    public static Boards of(Project project) {
        return project.boards().isEmpty() ? SHIPPED : KNOWN.computeIfAbsent(project.boards(), Boards::new);
    }

    public List<String> names() {
        return List.copyOf(boards.keySet());
    }

    /** What is wrong with the project's board files; a broken one is left out. */
    public List<Finding> findings() {
        return List.copyOf(findings);
    }

    public Optional<Board> find(String name) {
        return Optional.ofNullable(boards.get(name));
    }

    /** Names of the boards of some kind. */
    public List<String> names(Predicate<Board> kind) {
        return boards.values().stream().filter(kind).map(Board::name).toList();
    }

    /** A real-time target by name. */
    public Optional<Board> target(String name) {
        return find(name).filter(b -> b.target() != null);
    }

    /** A board by name, or a finding that says which there are. */
    public Board require(Place place, String name) {
        return find(name).orElseThrow(() -> FindingException.of(place, "There is no board '" + name + "'.",
                "Boards are: " + String.join(", ", names()) + "."));
    }
}
