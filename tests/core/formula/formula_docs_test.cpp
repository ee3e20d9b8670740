#include "formula.h"

#include <cctype>
#include <fstream>
#include <gtest/gtest.h>
#include <sstream>

using namespace fulvex;

/// docs/formulas.md has each function with its arguments as the table names them.
TEST(FormulaDocs, HaveEveryFunction)
{
    std::ifstream file(FULVEX_FORMULA_DOCS);
    ASSERT_TRUE(file);
    std::stringstream text;
    text << file.rdbuf();
    for (const FormulaFunction &function : formulaFunctions()) {
        if (!std::isalpha(static_cast<unsigned char>(function.name[0]))) continue;
        std::string call = std::string("`") + function.name + "(";
        for (const FormulaArgument &argument : function.arguments)
            call += (call.back() == '(' ? "" : ", ") + std::string(argument.name);
        EXPECT_NE(text.str().find(call + ")`"), std::string::npos) << call << ")`";
        EXPECT_NE(std::string(function.help).find(call.substr(1) + ")"), std::string::npos) << function.help;
    }
}
