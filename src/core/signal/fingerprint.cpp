#include "fingerprint.h"

#include "mapped_file.h"

#include <openssl/evp.h>

namespace fulvex {

std::string sha256(std::span<const std::byte> bytes)
{
    unsigned char digest[EVP_MAX_MD_SIZE];
    unsigned int length = 0;
    EVP_Digest(bytes.data(), bytes.size(), digest, &length, EVP_sha256(), nullptr);
    static constexpr char digits[] = "0123456789abcdef";
    std::string text;
    for (unsigned int i = 0; i < length; ++i) {
        text += digits[digest[i] >> 4];
        text += digits[digest[i] & 15];
    }
    return text;
}

std::string sha256(std::string_view text)
{
    return sha256(std::as_bytes(std::span(text.data(), text.size())));
}

std::string sha256OfFile(const std::filesystem::path &path)
{
    const auto file = MappedFile::open(path);
    const std::string digest = sha256(file->bytes());
    file->release(file->bytes());
    return digest;
}

} // namespace fulvex
