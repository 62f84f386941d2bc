Imports System.Data
Imports Microsoft.Data.SqlClient

Public Class Desk
    Private Const Name As String = "berth" & ".assign" ' call berth.assign(in int32 @vessel_id id, out string @note, return int32 @rc) captured

    Public Function Assign(conn As SqlConnection, id As Integer) As String
        Using cmd As New SqlCommand(Name, conn)
            cmd.CommandType = CommandType.StoredProcedure
            With cmd.Parameters
                .AddWithValue("@vessel_id", id)
                .Add("@note", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output
                .Add("@rc", SqlDbType.Int).Direction = ParameterDirection.ReturnValue
            End With
            cmd.ExecuteNonQuery() ' CALL berth.commented(1)
            If CInt(cmd.Parameters("@rc").Value) = 40 Then Return Nothing
            Return cmd.Parameters("@note").Value.ToString()
        End Using
    End Function

    Public Sub Text(conn As SqlConnection, id As Integer)
        Dim cmd As New SqlCommand With {.Connection = conn}
        cmd.CommandText = "EXEC fares.touch @id, " & "'x'" ' call fares.touch(in int32 id, in string 'x')
        cmd.Parameters.Add(New SqlParameter("@id", SqlDbType.Int) With {.Value = id})
        cmd.ExecuteNonQuery()
        Console.WriteLine("EXEC fares.logged")
    End Sub
End Class
