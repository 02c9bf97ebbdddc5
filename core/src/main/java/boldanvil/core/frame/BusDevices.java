package boldanvil.core.frame;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The devices on buses that ship with the product; each is a file beside this class, as boards are. */
public final class BusDevices {
    private static final List<String> FILES = List.of("level-sensor");
    private static final Map<String, BusDevice> ALL = new LinkedHashMap<>();

    static {
        FILES.forEach(f -> {
            BusDevice d = read(f);
            ALL.put(d.name(), d);
        });
    }

    private BusDevices() {}

    public static List<BusDevice> all() {
        return List.copyOf(ALL.values());
    }

    public static Optional<BusDevice> find(String name) {
        return Optional.ofNullable(ALL.get(name));
    }

    private static BusDevice read(String file) {
        try (InputStream in = BusDevices.class.getResourceAsStream(file + ".json")) {
            JsonNode n = JsonMapper.shared().readTree(in);
            var layout = new RegisterLayout(n.path("bytes").asInt(), n.path("signed").asBoolean(),
                    n.path("order").asString().equals("high byte first"),
                    n.path("scale").asDouble(), n.path("offset").asDouble());
            return new BusDevice(n.path("name").asString(), n.path("title").asString(), Integer.decode(n.path("address").asString()),
                    Integer.decode(n.path("register").asString()), layout, n.path("unit").asString(), n.path("update").asDouble());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
