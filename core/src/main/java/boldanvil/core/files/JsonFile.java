package boldanvil.core.files;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import tools.jackson.core.JacksonException;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.JsonToken;
import tools.jackson.core.json.JsonFactory;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Reads one JSON file under limits and checks it against its schema. */
public final class JsonFile {
    /** Largest file read, in bytes. A sheet of 100,000 blocks stays well below. */
    static final long MAX_BYTES = 64L << 20;
    /** Deepest nesting read. */
    static final int MAX_DEPTH = 32;

    private static final JsonMapper MAPPER = JsonMapper.builder(JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder().maxNestingDepth(MAX_DEPTH).maxStringLength(1_000_000).build())
            .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION).build())
            .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS).build();
    private static final CheckedFiles CHECKED = CheckedFiles.ofUser();

    private JsonFile() {}

    /**
     * Reads a file.
     *
     * @param schema name of the schema resource without its ending, such as {@code part}
     * @throws FindingException naming file, place, cause and cure when anything is wrong
     */
    static JsonNode read(Path file, String schema) {
        byte[] bytes = bytes(file, file.toString());
        return checked(parse(bytes, file.toString()), file.toString(), schema, new String(bytes, StandardCharsets.UTF_8));
    }

    /** As {@link #read(Path, String)}, of a file this program has just written itself: it is not held against its schema. */
    static JsonNode readOwn(Path file) {
        return parse(bytes(file, file.toString()), file.toString());
    }

    /** As {@link #readOwn}, of a text that ships with the program and has been tested. */
    public static JsonNode readOwn(String text) {
        return MAPPER.readTree(text);
    }

    /** As {@link #read(Path, String)}, of a text that stands at a place. */
    public static JsonNode read(String text, String place, String schema) {
        try {
            return checked(MAPPER.readTree(text), place, schema, text);
        } catch (JacksonException e) {
            throw broken(e, place);
        }
    }

    /** The line, from 1, at which the value with a JSON pointer (RFC 6901) is in a text; 0 where there is none. */
    public static int lineOf(String text, String pointer) {
        try (var parser = MAPPER.createParser(text)) {
            for (var token = parser.nextToken(); token != null; token = parser.nextToken()) {
                if (parser.streamReadContext().pathAsPointer().toString().equals(pointer) && token != JsonToken.PROPERTY_NAME) {
                    return parser.currentTokenLocation().getLineNr();
                }
            }
        } catch (JacksonException e) {
            // Whoever asks has read the text before; without an answer a finding only lacks its line.
        }
        return 0;
    }

    private static JsonNode checked(JsonNode root, String place, String schema, String text) {
        if (!root.isObject()) {
            throw FindingException.of(place, "The file does not contain a JSON object.", "Restore it from version control.");
        }
        String outOfRange = outOfRange(root, "");
        if (outOfRange != null) {
            int line = lineOf(text, outOfRange);
            throw FindingException.of(place + (line > 0 ? ":" + line : "") + " at " + outOfRange, "The number is out of range.",
                    "Correct this entry; numbers are below 1e308, whole ones below 9e18.");
        }
        long format = root.path("format").asLong(0);
        if (format > 1) {
            throw FindingException.of(place, "The file has format " + format + "; this version reads format 1.",
                    "Open it with a newer version of Bold Anvil.");
        }
        String key = CheckedFiles.key(schema, text);
        if (!CHECKED.contains(key)) {
            SchemaCheck.check(root, place, schema, text);
            CHECKED.add(key);
        }
        return root;
    }

    /** Pointer to a number that neither fits a long nor a double; null for none. */
    private static String outOfRange(JsonNode n, String pointer) {
        if (n.isNumber()) {
            boolean fits = n.isIntegralNumber() ? n.canConvertToLong() : isFinite(n);
            return fits ? null : pointer;
        }
        int i = 0;
        if (n.isObject()) {
            for (var e : n.properties()) {
                String found = outOfRange(e.getValue(), pointer + "/" + e.getKey());
                if (found != null) {
                    return found;
                }
            }
        } else if (n.isArray()) {
            for (JsonNode each : n) {
                String found = outOfRange(each, pointer + "/" + i++);
                if (found != null) {
                    return found;
                }
            }
        }
        return null;
    }

    private static boolean isFinite(JsonNode n) {
        // A number such as 1e400 is read as infinite, which has no decimal value.
        return n.isDouble() || n.isFloat() ? Double.isFinite(n.doubleValue()) : Double.isFinite(n.decimalValue().doubleValue());
    }

    static String sentence(String message) {
        return message.length() > 200 ? message.substring(0, 200) + "…" : message;
    }

    private static byte[] bytes(Path file, String place) {
        try {
            if (Files.exists(file) && !Files.isRegularFile(file)) {
                throw FindingException.of(place, "This is not a regular file.",
                        "Replace it by a regular file; folders, devices and pipes are not read.");
            }
            long size = Files.size(file);
            if (size > MAX_BYTES) {
                throw FindingException.of(place, "The file has " + (size >> 20) + " MiB; " + (MAX_BYTES >> 20)
                        + " MiB is the limit.", "This is not a project file, or it is damaged; restore it.");
            }
            return Files.readAllBytes(file);
        } catch (java.nio.file.NoSuchFileException e) {
            throw FindingException.of(place, "There is no such file.", "Check the path, or restore the file.");
        } catch (IOException | UncheckedIOException e) {
            throw FindingException.of(place, "The file cannot be read: " + e.getMessage() + ".", "Check its permissions.");
        }
    }

    private static JsonNode parse(byte[] bytes, String place) {
        try {
            return MAPPER.readTree(bytes);
        } catch (JacksonException e) {
            throw broken(e, place);
        }
    }

    private static FindingException broken(JacksonException e, String place) {
        var at = e.getLocation();
        String line = at == null ? "" : ":" + at.getLineNr() + ":" + at.getColumnNr();
        return FindingException.of(place + line, "The file is not valid JSON: " + sentence(firstLine(e.getOriginalMessage())) + ".",
                "Correct it there, or restore the file from version control.");
    }

    private static String firstLine(String s) {
        int end = s.indexOf('\n');
        String line = end < 0 ? s : s.substring(0, end);
        int detail = line.indexOf(" (start marker");
        line = detail < 0 ? line : line.substring(0, detail);
        return line.endsWith(".") ? line.substring(0, line.length() - 1) : line;
    }

}
