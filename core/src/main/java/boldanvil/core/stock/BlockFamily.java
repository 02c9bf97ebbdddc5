package boldanvil.core.stock;

import java.util.List;

/**
 * Block types that are added to the stock together. The families of the product are listed in {@link Stock}; a jar of its own names its
 * family in {@code META-INF/services}.
 */
public interface BlockFamily {
    List<BlockType> types();
}
