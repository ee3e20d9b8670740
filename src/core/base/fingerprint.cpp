#include "fingerprint.h"

#include "error.h"

#include <algorithm>
#include <memory>
#include <openssl/evp.h>

namespace fulvex {

namespace {

/// A digest in the making.
class Digest {
public:
    Digest() { EVP_DigestInit_ex(m_context.get(), algorithm(), nullptr); }
    void add(std::span<const std::byte> bytes) { EVP_DigestUpdate(m_context.get(), bytes.data(), bytes.size()); }
    std::string text()
    {
        unsigned char digest[EVP_MAX_MD_SIZE];
        unsigned int length = 0;
        EVP_DigestFinal_ex(m_context.get(), digest, &length);
        static constexpr char digits[] = "0123456789abcdef";
        std::string text;
        text.reserve(2 * length);
        for (unsigned int i = 0; i < length; ++i) {
            text += digits[digest[i] >> 4];
            text += digits[digest[i] & 15];
        }
        return text;
    }

private:
    /// Sought once: of a key that takes as long as its digest.
    static const EVP_MD *algorithm()
    {
        static const EVP_MD *const found = EVP_MD_fetch(nullptr, "SHA256", nullptr);
        return found;
    }
    std::unique_ptr<EVP_MD_CTX, void (*)(EVP_MD_CTX *)> m_context{EVP_MD_CTX_new(), EVP_MD_CTX_free};
};

} // namespace

std::string sha256(std::span<const std::byte> bytes)
{
    Digest digest;
    digest.add(bytes);
    return digest.text();
}

std::string sha256(std::string_view text)
{
    return sha256(std::as_bytes(std::span(text.data(), text.size())));
}

std::string sha256OfFiles(std::span<const std::shared_ptr<const MappedFile>> files, Progress &progress)
{
    constexpr std::size_t piece = 8 << 20;
    Digest digest;
    for (const auto &file : files) progress.expect(double(file->bytes().size()));
    for (const auto &file : files) {
        const auto bytes = file->bytes();
        for (std::size_t at = 0; at < bytes.size(); at += piece) {
            const auto part = bytes.subspan(at, std::min(piece, bytes.size() - at));
            digest.add(part);
            file->release(part);
            progress.advance(double(part.size()));
        }
        if (const std::string why = file->disturbance(); !why.empty())
            throw Error(file->path().string(), why, "wait until it is written, and read it again");
    }
    return digest.text();
}

} // namespace fulvex
