#include "failure_text.h"

#include "error.h"
#include "plain_text.h"
#include "program_log.h"

#include <filesystem>
#include <new>
#include <system_error>
#include <typeinfo>

namespace fulvex {

std::string failureText()
{
    try {
        throw;
    } catch (const Error &error) {
        return error.what();
    } catch (const std::bad_alloc &) {
        return "there is not enough memory for this: close other programs, or take a shorter record or region";
    } catch (const std::filesystem::filesystem_error &error) {
        return Error(error.path1().string(), error.code().message(), "check the path and the permissions").what();
    } catch (const std::system_error &error) {
        return "the system refused: " + shownText(error.code().message());
    } catch (const std::exception &error) {
        return "something unforeseen happened (" + shownText(error.what()) +
               "): what was open is kept; please report it";
    } catch (...) {
        return "something unforeseen happened: what was open is kept; please report it";
    }
}

std::string failureForLog()
{
    try {
        throw;
    } catch (const Error &error) {
        return withoutNames(error.found());
    } catch (const std::filesystem::filesystem_error &error) {
        return "file system: " + error.code().message();
    } catch (const std::exception &error) {
        return std::string(typeid(error).name()) + ": " + withoutNames(error.what());
    } catch (...) {
        return "not an exception of any kind";
    }
}

} // namespace fulvex
