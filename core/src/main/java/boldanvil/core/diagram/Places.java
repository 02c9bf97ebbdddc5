package boldanvil.core.diagram;

import java.util.Optional;

/** Finds what a diagram path names: part, subsystems and block, joined by {@code /}. */
public final class Places {
    /** A block together with the sheet it is on. */
    public record Place(SheetRef sheet, Block block) {}

    private Places() {}

    /** The block a path names; empty when it names none, or no block at all. */
    public static Optional<Place> find(Project project, String path) {
        String[] words = path.split("/");
        var part = project.part(words[0]);
        if (part.isEmpty() || words.length < 2) {
            return Optional.empty();
        }
        Sheet sheet = part.get().main();
        for (int i = 1; i < words.length; i++) {
            String name = words[i];
            var block = sheet.blocks().stream().filter(b -> b.name().equals(name)).findFirst();
            if (block.isEmpty()) {
                return Optional.empty();
            }
            if (i == words.length - 1) {
                return Optional.of(new Place(new SheetRef(part.get().id(), sheet.id()), block.get()));
            }
            var inner = part.get().sheet(block.get().inner());
            if (inner.isEmpty()) {
                return Optional.empty();
            }
            sheet = inner.get();
        }
        return Optional.empty();
    }
}
