package boldanvil.core.board;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.JsonFile;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.program.TerminalKind;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.JsonNode;

/** The boards a project can use: those that ship with the product, and those whose files it brings along. */
public final class Boards {
    private static final Map<Map<String, String>, Boards> KNOWN = new ConcurrentHashMap<>();
    private static final Boards SHIPPED = new Boards(List.of("swage32", "clinker16"));

    private final Map<String, Board> boards = new LinkedHashMap<>();
    private final List<Finding> findings = new ArrayList<>();

    private Boards(List<String> shipped) {
        for (String name : shipped) {
            try (InputStream in = Boards.class.getResourceAsStream(name + ".json")) {
                boards.put(name, board(new String(in.readAllBytes(), StandardCharsets.UTF_8), name + ".json"));
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
                Board b = board(text, place);
                if (!b.name().equals(file)) {
                    findings.add(Finding.error(place, "The file says it describes the board '" + b.name() + "'.", "Name the file after its board."));
                } else if (boards.putIfAbsent(file, b) != null) {
                    findings.add(Finding.error(place, "A board that ships with the product has the name '" + file + "' already.", "Give this one another name."));
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

    /** A board by name, or a finding that says which there are. */
    public Board require(String place, String name) {
        return find(name).orElseThrow(() -> FindingException.of(place, "There is no board '" + name + "'.",
                "Boards are: " + String.join(", ", names()) + "."));
    }

    private static Board board(String text, String place) {
        JsonNode n = JsonFile.read(text, place, "board");
        List<Channel> channels = new ArrayList<>();
        for (JsonNode c : n.path("channels")) {
            channels.add(new Channel(c.path("id").asString(), kind(c.path("kind").asString()), strings(c.path("pins"))));
        }
        List<Board.Pin> pins = new ArrayList<>();
        n.path("pins").forEach(p -> pins.add(new Board.Pin(p.path("name").asString(), p.path("also").asString(""))));
        List<Integer> prescalers = new ArrayList<>();
        n.path("pwm").path("prescalers").forEach(p -> prescalers.add(p.asInt()));
        var board = new Board(n.path("name").asString(), n.path("title").asString(), n.path("clockHz").asDouble(), n.path("flashBytes").asLong(),
                n.path("ramBytes").asLong(), n.path("floatBits").asInt(0), n.path("adc").path("bits").asInt(), n.path("adc").path("referenceVolts").asDouble(),
                n.path("adc").path("conversionSeconds").asDouble(), n.path("pwm").path("bits").asInt(), prescalers, n.path("encoder").path("bits").asInt(0),
                n.path("digital").path("highVolts").asDouble(), channels, pins);
        check(board, place);
        return board;
    }

    private static List<String> strings(JsonNode array) {
        List<String> all = new ArrayList<>();
        array.forEach(x -> all.add(x.asString()));
        return all;
    }

    /** What a schema cannot say. */
    private static void check(Board b, String place) {
        List<Finding> wrong = new ArrayList<>();
        Set<String> pins = new HashSet<>();
        for (var p : b.pins()) {
            if (!pins.add(p.name())) {
                wrong.add(Finding.error(place, "Pin '" + p.name() + "' is there twice.", "Name each pin once, as it is printed."));
            }
        }
        Set<List<Object>> channels = new HashSet<>();
        for (Channel c : b.channels()) {
            if (!channels.add(List.of(c.id(), c.kind()))) {
                wrong.add(Finding.error(place, "Channel '" + c.id() + "' is there twice as " + c.kind().label() + ".", "Give its ways out as several pins of one channel."));
            }
            for (String way : c.pins()) {
                String[] wires = way.split(",");
                if (wires.length != (c.kind() == TerminalKind.ENCODER_IN ? 2 : 1)) {
                    wrong.add(Finding.error(place, "Channel '" + c.id() + "' comes out at '" + way + "', which is no " + (c.kind() == TerminalKind.ENCODER_IN ? "pair of pins" : "pin")
                            + ".", "An encoder has two pins with a comma between them, any other channel one."));
                }
                for (String pin : wires) {
                    if (!pins.contains(pin.strip())) {
                        wrong.add(Finding.error(place, "Channel '" + c.id() + "' comes out at pin '" + pin.strip() + "', which the board has not.", "Correct it, or add the pin."));
                    }
                }
            }
        }
        for (int i = 1; i < b.prescalers().size(); i++) {
            if (b.prescalers().get(i) <= b.prescalers().get(i - 1)) {
                wrong.add(Finding.error(place, "The prescalers do not rise.", "Sort them."));
                break;
            }
        }
        if (b.encoderBits() == 0 && !b.channels(TerminalKind.ENCODER_IN).isEmpty()) {
            wrong.add(Finding.error(place, "It has encoder channels, but does not say how wide their counters are.", "Add \"encoder\": {\"bits\": 16}."));
        }
        if (!wrong.isEmpty()) {
            throw new FindingException(wrong);
        }
    }

    private static TerminalKind kind(String label) {
        for (TerminalKind k : TerminalKind.values()) {
            if (k.label().equals(label)) {
                return k;
            }
        }
        throw new IllegalArgumentException(label);
    }
}
