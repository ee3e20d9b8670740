#include "sheet_json.h"

#include "error.h"
#include "json_writer.h"

namespace fulvex {

using Json = nlohmann::ordered_json;

namespace {

void readNumbers(JsonReader &in, const char *key, std::vector<double> &numbers, std::size_t wanted = 0)
{
    if (!in.has(key)) return;
    const Json &list = in.raw(key);
    const bool right = list.is_array() && (wanted == 0 || list.size() == wanted) &&
                       std::all_of(list.begin(), list.end(), [](const Json &one) { return one.is_number(); });
    if (!right)
        throw Error(in.where(key), "is no list of " + (wanted ? std::to_string(wanted) + " " : "") + "numbers",
                    "write [" + std::string(wanted == 2 ? "low, high" : "1, 1, …") + "]");
    for (const Json &one : list) numbers.push_back(one.get<double>());
}

TileEntry readTile(JsonReader &in)
{
    TileEntry tile;
    in.read("id", tile.id);
    in.read("kind", tile.kind);
    if (in.has("of")) {
        if (!in.raw("of").is_array()) throw Error(in.where("of"), "is no list", "write [\"id\", …]");
        for (const Json &id : in.raw("of")) {
            if (!id.is_string()) throw Error(in.where("of"), "holds what is no id", "write [\"id\", …]");
            tile.of.push_back(id.get<std::string>());
        }
    }
    in.read("lanes", tile.lanes);
    in.read("row", tile.row);
    in.read("column", tile.column);
    in.read("row_span", tile.rowSpan);
    in.read("column_span", tile.columnSpan);
    readNumbers(in, "heights", tile.heights);
    if (in.has("ranges")) {
        const Json &ranges = in.raw("ranges");
        if (!ranges.is_object()) throw Error(in.where("ranges"), "is no object", "write {\"channel\": [low, high]}");
        JsonReader each(ranges, in.where("ranges"));
        for (const auto &[channel, range] : ranges.items()) {
            std::vector<double> ends;
            readNumbers(each, channel.c_str(), ends, 2);
            if (ends.size() == 2) tile.ranges[channel] = {ends[0], ends[1]};
        }
    }
    in.read("own_view", tile.ownView);
    in.read("from", tile.from);
    in.read("to", tile.to);
    in.read("straight", tile.straight);
    return tile;
}

Json tileJson(const TileEntry &e)
{
    JsonWriter out;
    out.text("id", e.id)
        .put("kind", e.kind)
        .put("of", e.of)
        .put("lanes", e.lanes, false)
        .put("row", e.row)
        .put("column", e.column);
    out.put("row_span", e.rowSpan, 1).put("column_span", e.columnSpan, 1).put("heights", e.heights, {});
    Json ranges = Json::object();
    for (const auto &[channel, range] : e.ranges) ranges[channel] = Json::array({range.first, range.second});
    out.put("ranges", ranges, Json(Json::object()));
    out.put("own_view", e.ownView, false).put("from", e.from).put("to", e.to);
    return out.put("straight", e.straight, false).take();
}

} // namespace

void readSheets(JsonReader &in, Document &document)
{
    in.each("notes", [&](JsonReader &item) {
        NoteEntry entry;
        item.read("id", entry.id);
        item.read("channel", entry.channel);
        item.read("text", entry.text);
        item.read("time", entry.time);
        item.read("level", entry.level);
        item.read("right", entry.right);
        item.read("down", entry.down);
        item.read("width", entry.width);
        document.notes.push_back(entry);
    });
    in.each("markers", [&](JsonReader &item) {
        MarkerEntry entry;
        item.read("id", entry.id);
        item.read("channel", entry.channel);
        item.read("time", entry.time);
        item.read("level", entry.level);
        document.markers.push_back(entry);
    });
    in.each("sheets", [&](JsonReader &item) {
        SheetEntry sheet;
        item.read("id", sheet.id);
        item.read("title", sheet.title);
        item.read("from", sheet.from);
        item.read("to", sheet.to);
        item.each("tiles", [&](JsonReader &tile) { sheet.tiles.push_back(readTile(tile)); });
        document.sheets.push_back(sheet);
    });
}

void putSheets(Json &json, const Document &document)
{
    putList(json, "notes", document.notes, [](const NoteEntry &e) {
        return JsonWriter()
            .put("id", e.id)
            .put("channel", e.channel)
            .put("time", e.time)
            .put("level", e.level)
            .put("text", e.text)
            .put("right", e.right, 0.0)
            .put("down", e.down, 0.0)
            .put("width", e.width, 0.0)
            .take();
    });
    putList(json, "markers", document.markers, [](const MarkerEntry &e) {
        return JsonWriter().put("id", e.id).text("channel", e.channel).put("time", e.time).put("level", e.level).take();
    });
    putList(json, "sheets", document.sheets, [](const SheetEntry &e) {
        Json sheet = JsonWriter().put("id", e.id).put("title", e.title).put("from", e.from).put("to", e.to).take();
        putList(sheet, "tiles", e.tiles, tileJson);
        return sheet;
    });
}

} // namespace fulvex
