package boldanvil.app.sheet;

import boldanvil.app.page.Memory;
import boldanvil.core.stock.BlockType;
import java.util.ArrayList;
import java.util.List;

/** Which block types the user takes often: those used lately, and those marked as favourites. */
final class StockUse {
    private static final int KEPT = 12;
    private static final String RECENT = "stock recent";
    private static final String FAVOURITES = "stock favourites";

    private final Memory memory;

    StockUse(Memory memory) {
        this.memory = memory;
    }

    private List<String> list(String key) {
        String text = memory.get(key);
        return text.isEmpty() ? List.of() : List.of(text.split(","));
    }

    /** Ids of the types used last, newest first. */
    List<String> recent() {
        return list(RECENT);
    }

    void used(BlockType type) {
        List<String> next = new ArrayList<>(recent());
        next.remove(type.id());
        next.addFirst(type.id());
        memory.put(RECENT, String.join(",", next.subList(0, Math.min(KEPT, next.size()))));
    }

    /** Ids of the favourites, in the order in which they were marked. */
    List<String> favourites() {
        return list(FAVOURITES);
    }

    /** Marks a type as favourite, or removes the mark. */
    void toggle(BlockType type) {
        List<String> next = new ArrayList<>(favourites());
        if (!next.remove(type.id())) {
            next.add(type.id());
        }
        memory.put(FAVOURITES, String.join(",", next));
    }
}
