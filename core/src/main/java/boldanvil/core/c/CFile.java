package boldanvil.core.c;

import java.util.Map;

/**
 * A generated file.
 *
 * @param name file name without folder
 * @param text its content
 * @param places the diagram place of each line that has one, by line number from 1
 */
public record CFile(String name, String text, Map<Integer, String> places) {
    public CFile {
        places = Map.copyOf(places);
    }
}
