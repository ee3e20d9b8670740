#include "remedy_edit.h"

#include "described_fields.h"

namespace fulvex {

static void setField(const Field &field, const Remedy::Setting &setting)
{
    if (!setting.word.empty()) return setWord(field.value, setting.word);
    const double number = setting.number.value_or(0);
    if (auto *value = std::get_if<double *>(&field.value)) **value = number;
    if (auto *value = std::get_if<std::optional<double> *>(&field.value)) **value = setting.number;
    if (auto *value = std::get_if<int *>(&field.value)) **value = int(number);
}

void applyRemedy(Document &document, const Remedy &remedy)
{
    if (remedy.kind == Remedy::Kind::region) {
        document.regions.push_back({freeId(document, "without_gaps"), remedy.from, remedy.to});
        return;
    }
    if (remedy.kind == Remedy::Kind::settings) {
        for (const Remedy::Setting &setting : remedy.settings) {
            for (const Field &field : fieldsOf(document, remedy.entry))
                if (setting.key == field.key) setField(field, setting);
        }
        return;
    }
    if (remedy.kind == Remedy::Kind::origin) return moveTimeOrigin(document, remedy.value);
    ChannelEntry *channel = findEntry(document.channels, remedy.channel);
    if (!channel) return;
    if (remedy.kind == Remedy::Kind::delay) channel->delay += remedy.value;
    if (remedy.kind == Remedy::Kind::offset) channel->offset += remedy.value;
    if (remedy.kind == Remedy::Kind::scale) {
        channel->scale *= remedy.value;
        channel->offset *= remedy.value;
    }
}

} // namespace fulvex
