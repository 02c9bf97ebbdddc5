package boldanvil.core.lower;

import boldanvil.core.program.Slot;
import java.util.IdentityHashMap;
import java.util.Map;

/** The structs that bundles become, with the names of their members. */
final class Structs {
    /** A struct's name, and those of its members. */
    private record Struct(String name, Names members) {}

    private final Map<FlatBlock, Struct> structs = new IdentityHashMap<>();

    /**
     * A new member of the struct of a bundle.
     *
     * @param field the name wanted
     * @param names those of the program, one of which the struct gets
     */
    Slot.Member member(FlatBlock bundle, String field, Names names) {
        var struct = structs.computeIfAbsent(bundle, b -> new Struct(names.fresh(Labels.label(b)), new Names()));
        return new Slot.Member(struct.name(), struct.members().fresh(field));
    }
}
