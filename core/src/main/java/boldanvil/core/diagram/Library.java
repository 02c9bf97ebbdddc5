package boldanvil.core.diagram;

import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * The own blocks of a project.
 *
 * @param blocks by id
 */
public record Library(Map<String, OwnBlock> blocks) {
    public static final Library EMPTY = new Library(Map.of());

    public Library {
        blocks = java.util.Collections.unmodifiableMap(new TreeMap<>(blocks));
    }

    public Collection<OwnBlock> all() {
        return blocks.values();
    }

    /** The own block a block is a use of. */
    public Optional<OwnBlock> of(Block b) {
        return OwnBlock.holds(b.inner()) ? find(OwnBlock.owner(b.inner())) : Optional.empty();
    }

    public Optional<OwnBlock> find(String id) {
        return Optional.ofNullable(blocks.get(id));
    }

    /** A sheet of one of them. */
    public Optional<Sheet> sheet(String sheetId) {
        return OwnBlock.holds(sheetId) ? find(OwnBlock.owner(sheetId)).flatMap(b -> b.sheet(sheetId)) : Optional.empty();
    }

    /** A block and all own blocks on its sheets, and on theirs. */
    public List<OwnBlock> closure(String id) {
        Map<String, OwnBlock> found = new LinkedHashMap<>();
        collect(id, found);
        return List.copyOf(found.values());
    }

    private void collect(String id, Map<String, OwnBlock> found) {
        find(id).filter(b -> found.putIfAbsent(id, b) == null).ifPresent(b -> b.sheets().forEach(s -> s.blocks().stream()
                .filter(c -> OwnBlock.holds(c.inner())).forEach(c -> collect(OwnBlock.owner(c.inner()), found))));
    }

    /** An id like the wanted one that no block has yet. */
    public String freshId(String wanted) {
        String id = wanted;
        for (int n = 2; blocks.containsKey(id); n++) {
            id = wanted + "_" + n;
        }
        return id;
    }

    /** The same with a block added or replaced. */
    public Library with(OwnBlock block) {
        var next = new TreeMap<>(blocks);
        next.put(block.id(), block);
        return new Library(next);
    }

    public Library without(String id) {
        var next = new TreeMap<>(blocks);
        next.remove(id);
        return new Library(next);
    }
}
