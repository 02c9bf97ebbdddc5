package boldanvil.core.stock;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.stream.Stream;

/** The list of block types. */
public final class Stock {
    private static final Map<String, BlockType> TYPES = new LinkedHashMap<>();

    static {
        Stream.of(Sources.TYPES, Calculation.TYPES, Tables.TYPES, Logic.TYPES, Limits.TYPES, Sampled.TYPES, Timers.TYPES,
                        StateSpace.TYPES, Continuous.TYPES, Circuits.TYPES, SourcesAndStorage.TYPES, PowerStages.TYPES,
                        Machines.TYPES, Mechanics.TYPES, FrictionAndPlay.TYPES, FluidsAndHeat.TYPES, Hydraulics.TYPES, Sensors.TYPES,
                        Drives.TYPES,
                        Texts.TYPES, OwnElements.TYPES, Terminals.TYPES, LineTerminals.TYPES,
                        Structure.TYPES)
                .flatMap(List::stream).forEach(t -> TYPES.put(t.id(), t));
        ServiceLoader.load(BlockFamily.class, Stock.class.getClassLoader())
                .forEach(f -> f.types().forEach(t -> TYPES.putIfAbsent(t.id(), t)));
    }

    private static final Map<String, BlockType> FORMER = new HashMap<>();

    static {
        TYPES.values().forEach(t -> t.formerIds().forEach(id -> FORMER.put(id, t)));
    }

    private Stock() {}

    /** Every block type, by family. */
    public static List<BlockType> all() {
        return List.copyOf(TYPES.values());
    }

    /** @param id the id of a block type, or one it had in former versions */
    public static Optional<BlockType> find(String id) {
        return Optional.ofNullable(TYPES.getOrDefault(id, FORMER.get(id)));
    }
}
