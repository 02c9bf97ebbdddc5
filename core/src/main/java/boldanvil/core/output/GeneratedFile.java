package boldanvil.core.output;

import java.util.Map;

/**
 * A generated file.
 *
 * @param name file name without folder
 * @param text its content
 * @param places the diagram place of each line that has one, by line number from 1
 */
public record GeneratedFile(String name, String text, Map<Integer, String> places) {
    public GeneratedFile {
        places = Map.copyOf(places);
    }
}
