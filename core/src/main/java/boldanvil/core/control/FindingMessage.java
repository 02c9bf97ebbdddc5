package boldanvil.core.control;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** Findings as objects on the control channel. */
public final class FindingMessage {
    private FindingMessage() {}

    /** {@code place} is for people, {@code at} for the page that shows it. */
    public static Map<String, Object> of(Finding f) {
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("place", f.place().text());
        m.put("at", f.place().parts());
        m.put("cause", f.cause());
        m.put("cure", f.cure());
        m.put("error", f.isError());
        return m;
    }

    /** @param n an object as {@link #of} makes it; what is missing is empty */
    public static Finding read(JsonNode n) {
        List<String> parts = new ArrayList<>();
        n.path("at").forEach(p -> parts.add(p.asString("")));
        Place place = parts.isEmpty() ? Place.named(n.path("place").asString("")) : Place.parse(parts);
        String cause = n.path("cause").asString("The request failed.");
        String cure = n.path("cure").asString("");
        return n.path("error").asBoolean(true) ? Finding.error(place, cause, cure) : Finding.warning(place, cause, cure);
    }
}
