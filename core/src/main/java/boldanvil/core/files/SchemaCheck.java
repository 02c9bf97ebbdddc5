package boldanvil.core.files;

import boldanvil.core.finding.FindingException;
import com.networknt.schema.Error;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.databind.JsonNode;

/** Holds JSON against the schema of its kind of file. A class of its own, so that the validator is loaded only where it is needed. */
final class SchemaCheck {
    private static final Map<String, Schema> SCHEMAS = new ConcurrentHashMap<>();

    private SchemaCheck() {}

    /** @throws FindingException with the line of the first entry that does not fit */
    static void check(JsonNode root, String place, String schema, String text) {
        List<Error> errors = schema(schema).validate(root);
        if (!errors.isEmpty()) {
            Error e = errors.getFirst();
            String more = errors.size() > 1 ? " (and " + (errors.size() - 1) + " more like it)" : "";
            String where = String.valueOf(e.getInstanceLocation());
            int line = JsonFile.lineOf(text, where);
            throw FindingException.of(place + (line > 0 ? ":" + line : "") + (where.isEmpty() ? "" : " at " + where),
                    "The file does not fit its format: "
                    + JsonFile.sentence(e.getMessage()) + more + ".", "Correct this entry; docs/formats.md describes it.");
        }
    }

    private static Schema schema(String name) {
        return SCHEMAS.computeIfAbsent(name, n -> {
            try (InputStream in = SchemaCheck.class.getResourceAsStream(n + ".schema.json")) {
                return SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12).getSchema(in);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
    }
}
