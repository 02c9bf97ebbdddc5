package boldanvil.app.page;

/** What a page wants to know again next time, by a key of its own. */
public interface Memory {
    /** A remembered text; empty where there is none. */
    String get(String key);

    void put(String key, String text);
}
