package boldanvil.core.link;

import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** How this user signs in at each device: a file in the user's own folder that nobody else can read, and never a part of a project. */
public final class AccessStore {
    private static final JsonMapper MAPPER = new JsonMapper();
    private static final long MOST_BYTES = 1L << 20;

    private final Optional<Path> file;
    private final Map<String, Access> session = new LinkedHashMap<>();

    /** @param file where it is kept; empty to forget it when the process ends */
    public AccessStore(Optional<Path> file) {
        this.file = file;
    }

    /** The store of this user. */
    public static AccessStore ofUser() {
        return new AccessStore(UserFolder.find().map(f -> f.resolve("devices.json")));
    }

    /** How to sign in at a device; {@link Access#ANONYMOUS} where nothing was stored. */
    public synchronized Access find(Endpoint at) {
        return all().getOrDefault(at.toString(), Access.ANONYMOUS);
    }

    /** Keeps how to sign in at a device; nobody in particular and no encryption is forgotten. */
    public synchronized void put(Endpoint at, Access access) {
        var all = all();
        if (access.equals(Access.ANONYMOUS)) {
            all.remove(at.toString());
        } else {
            all.put(at.toString(), access);
        }
        session.clear();
        session.putAll(all);
        file.ifPresent(f -> write(f, all));
    }

    private static void write(Path f, Map<String, Access> all) {
        Map<String, Object> texts = new LinkedHashMap<>();
        all.forEach((at, a) -> texts.put(at, Map.of("user", a.user(), "password", a.password(), "encrypted", a.encrypted())));
        try {
            WholeFile.write(f, made -> {
                Files.createFile(made);
                UserFolder.restrict(made, "rw-------");
                Files.writeString(made, MAPPER.writeValueAsString(texts));
            });
        } catch (IOException e) {
            Log.ignored(AccessStore.class, e, "What was typed to sign in cannot be stored; it is valid for this session only.");
        }
    }

    private Map<String, Access> all() {
        Map<String, Access> all = new LinkedHashMap<>(session);
        try {
            if (file.isPresent() && Files.isRegularFile(file.get()) && Files.size(file.get()) <= MOST_BYTES) {
                MAPPER.readTree(Files.readString(file.get())).properties().forEach(e -> all.put(e.getKey(), new Access(
                        e.getValue().path("user").asString(""), e.getValue().path("password").asString(""),
                        e.getValue().path("encrypted").asBoolean(false))));
            }
        } catch (IOException | JacksonException e) {
            Log.ignored(AccessStore.class, e, "What is stored to sign in at devices cannot be read.");
        }
        return all;
    }
}
