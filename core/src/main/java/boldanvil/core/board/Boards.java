package boldanvil.core.board;

import boldanvil.core.finding.FindingException;
import boldanvil.core.program.TerminalKind;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The boards that ship with the product. Each is an open file beside this class. */
public final class Boards {
    private static final List<String> SHIPPED = List.of("swage32");
    private static final Map<String, Board> LOADED = new ConcurrentHashMap<>();

    private Boards() {}

    /** Names of the boards that ship with the product. */
    public static List<String> names() {
        return SHIPPED;
    }

    /** A shipped board by name. */
    public static Optional<Board> find(String name) {
        return SHIPPED.contains(name) ? Optional.of(LOADED.computeIfAbsent(name, Boards::shipped)) : Optional.empty();
    }

    /** A board by name, or a finding that says which there are. */
    public static Board require(String place, String name) {
        return find(name).orElseThrow(() -> FindingException.of(place, "There is no board '" + name + "'.",
                "Boards are: " + String.join(", ", SHIPPED) + "."));
    }

    private static Board shipped(String name) {
        try (InputStream in = Boards.class.getResourceAsStream(name + ".json")) {
            return board(new JsonMapper().readTree(in), name);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static Board board(JsonNode n, String place) {
        List<Channel> channels = new ArrayList<>();
        for (JsonNode c : n.path("channels")) {
            List<String> pins = new ArrayList<>();
            c.path("pins").forEach(p -> pins.add(p.asString()));
            channels.add(new Channel(c.path("id").asString(""), kind(c.path("kind").asString(""), place), pins));
        }
        List<Board.Pin> pins = new ArrayList<>();
        n.path("pins").forEach(p -> pins.add(new Board.Pin(p.path("name").asString(""), p.path("also").asString(""))));
        List<Integer> prescalers = new ArrayList<>();
        n.path("pwm").path("prescalers").forEach(p -> prescalers.add(p.asInt()));
        var board = new Board(n.path("name").asString(""), n.path("title").asString(""), n.path("clockHz").asDouble(0),
                n.path("flashBytes").asLong(0), n.path("ramBytes").asLong(0), n.path("floatBits").asInt(0),
                n.path("adc").path("bits").asInt(0), n.path("adc").path("referenceVolts").asDouble(0),
                n.path("adc").path("conversionSeconds").asDouble(0), n.path("pwm").path("bits").asInt(0), prescalers,
                n.path("encoder").path("bits").asInt(0), n.path("digital").path("highVolts").asDouble(0), channels, pins);
        if (board.name().isEmpty() || board.clockHz() <= 0 || board.adcBits() <= 0 || board.adcVolts() <= 0
                || board.pwmBits() <= 0 || prescalers.isEmpty() || pins.isEmpty()) {
            throw FindingException.of(place, "The board file lacks its name, clock, adc, pwm or pins.",
                    "Compare it with the board files that ship with the product.");
        }
        return board;
    }

    private static TerminalKind kind(String label, String place) {
        for (TerminalKind k : TerminalKind.values()) {
            if (k.label().equals(label)) {
                return k;
            }
        }
        throw FindingException.of(place, "'" + label + "' is no kind of channel.", "Use one of the terminals' kinds.");
    }
}
